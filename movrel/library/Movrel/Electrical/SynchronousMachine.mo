within Movrel.Electrical;
model SynchronousMachine "Permanent-magnet synchronous machine in its rotor axes"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Integer p(min=1) = 4 "Pole pairs";
  parameter Resistance R_s(min=1e-9) = 0.2 "Resistance of a phase";
  parameter Inductance L_d(min=1e-9) = 1e-3 "Inductance in the direct axis";
  parameter Inductance L_q(min=1e-9) = 1e-3 "Inductance in the quadrature axis";
  parameter FluxLinkage psi_m(min=0) = 0.05 "Flux of the magnets";
  parameter MomentOfInertia J(min=1e-12) = 1e-3 "Inertia of the rotor";
  parameter Angle phi_start(displayUnit="deg") = 0 "Angle of the rotor at the start";
  parameter AngularVelocity w_start(displayUnit="rpm") = 0 "Speed at the start";
  Terminal line[3] "Lines" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Voltage v_s[2] "Stator voltage in the axes of the stator";
  Current i_s[2] "Stator current in the axes of the stator";
  Voltage v_d "Voltage in the direct axis";
  Voltage v_q "Voltage in the quadrature axis";
  Current i_d(start=0, fixed=true) "Current in the direct axis";
  Current i_q(start=0, fixed=true) "Current in the quadrature axis";
  AngularVelocity w(start=w_start, stateSelect=StateSelect.prefer, displayUnit="rpm") "Speed";
  Angle phi(start=phi_start, stateSelect=StateSelect.prefer) "Angle of the rotor";
  Torque tau_e "Torque of the field";
protected
  Real c "Cosine of the electrical angle";
  Real s "Its sine";
equation
  v_s = {2/3*(line[1].v - line[2].v/2 - line[3].v/2), (line[2].v - line[3].v)/sqrt(3)};
  line[1].i = i_s[1];
  line[2].i = -i_s[1]/2 + sqrt(3)/2*i_s[2];
  line[3].i = -i_s[1]/2 - sqrt(3)/2*i_s[2];
  c = cos(p*phi);
  s = sin(p*phi);
  v_d = c*v_s[1] + s*v_s[2];
  v_q = -s*v_s[1] + c*v_s[2];
  i_s = {c*i_d - s*i_q, s*i_d + c*i_q};
  v_d = R_s*i_d + L_d*der(i_d) - p*w*L_q*i_q;
  v_q = R_s*i_q + L_q*der(i_q) + p*w*(L_d*i_d + psi_m);
  tau_e = 3/2*p*(psi_m*i_q + (L_d - L_q)*i_d*i_q);
  phi = shaft.phi;
  w = der(phi);
  J*der(w) = tau_e + shaft.tau;
  loss = 3/2*R_s*(i_d^2 + i_q^2);
  annotation (
    Icon(graphics={
      Line(points={{0,100},{0,70}}, color={40,44,60}, thickness=0.5),
      Ellipse(extent={{-70,70},{70,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,46},{50,-20}}, textString="M"),
      Text(extent={{-50,-16},{50,-56}}, textString="PM 3 ~"),
      Line(points={{70,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>v_d = R i_d + L_d di_d/dt - p w L_q i_q</i>, <i>v_q = R i_q + L_q di_q/dt + p w (L_d i_d + ψ_m)</i>, <i>tau = 3/2 p (ψ_m i_q + (L_d - L_q) i_d i_q)</i></p></html>"),
    __Movrel(synonyms={"servo motor", "brushless", "PMSM", "dq", "three-phase"}, source="Krause, Wasynczuk and Sudhoff, Analysis of Electric Machinery, chapter 5"));
end SynchronousMachine;
