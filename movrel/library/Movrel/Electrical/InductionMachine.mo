within Movrel.Electrical;
model InductionMachine "Induction machine with a cage, fluxes in two axes"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Integer p(min=1) = 2 "Pole pairs";
  parameter Resistance R_s(min=1e-9) = 1.4 "Stator resistance";
  parameter Resistance R_r(min=1e-9) = 1.1 "Rotor resistance, referred to the stator";
  parameter Inductance L_s(min=1e-9) = 0.17 "Stator inductance";
  parameter Inductance L_r(min=1e-9) = 0.17 "Rotor inductance, referred to the stator";
  parameter Inductance L_m(min=1e-9) = 0.162 "Main inductance";
  parameter MomentOfInertia J(min=1e-12) = 0.02 "Inertia of the rotor";
  Terminal line[3] "Lines" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Voltage v_s[2] "Stator voltage in the axes of the stator";
  Current i_s[2] "Stator current";
  Current i_r[2] "Rotor current";
  FluxLinkage psi_s[2](each start=0, each fixed=true) "Stator flux";
  FluxLinkage psi_r[2](each start=0, each fixed=true) "Rotor flux";
  Angle phi(start=0, stateSelect=StateSelect.prefer) "Angle of the rotor";
  AngularVelocity w(start=0, stateSelect=StateSelect.prefer, displayUnit="rpm") "Speed";
  Torque tau_e "Torque of the field";
equation
  assert(L_m^2 < L_s*L_r, "the main inductance L_m must be below sqrt(L_s L_r)");
  v_s = {2/3*(line[1].v - line[2].v/2 - line[3].v/2), (line[2].v - line[3].v)/sqrt(3)};
  line[1].i = i_s[1];
  line[2].i = -i_s[1]/2 + sqrt(3)/2*i_s[2];
  line[3].i = -i_s[1]/2 - sqrt(3)/2*i_s[2];
  psi_s = L_s*i_s + L_m*i_r;
  psi_r = L_m*i_s + L_r*i_r;
  der(psi_s) = v_s - R_s*i_s;
  der(psi_r) = -R_r*i_r + p*w*{-psi_r[2], psi_r[1]};
  tau_e = 3/2*p*(psi_s[1]*i_s[2] - psi_s[2]*i_s[1]);
  phi = shaft.phi;
  w = der(phi);
  J*der(w) = tau_e + shaft.tau;
  loss = 3/2*(R_s*i_s*i_s + R_r*i_r*i_r);
  annotation (
    Icon(graphics={
      Line(points={{0,100},{0,70}}, color={40,44,60}, thickness=0.5),
      Ellipse(extent={{-70,70},{70,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,46},{50,-20}}, textString="M"),
      Text(extent={{-50,-16},{50,-56}}, textString="3 ~"),
      Line(points={{70,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p>Fluxes in the axes of the stator: <i>dψ_s/dt = v_s - R_s i_s</i>, <i>dψ_r/dt = -R_r i_r + j p w ψ_r</i>, <i>tau = 3/2 p ψ_s × i_s</i></p></html>"),
    __Movrel(synonyms={"asynchronous motor", "squirrel cage", "three-phase", "dq"}, source="Krause, Wasynczuk and Sudhoff, Analysis of Electric Machinery, chapter 4"));
end InductionMachine;
