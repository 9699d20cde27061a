within Movrel.Electrical;
model ExcitedMotor "Separately excited DC motor"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Resistance R_a(min=1e-9) = 0.5 "Armature resistance";
  parameter Inductance L_a(min=1e-12) = 5e-3 "Armature inductance";
  parameter Resistance R_f(min=1e-9) = 100 "Field resistance";
  parameter Inductance L_f(min=1e-12) = 10 "Field inductance";
  parameter Inductance L_af(min=0) = 1 "Mutual inductance: torque over armature times field current";
  parameter MomentOfInertia J(min=1e-12) = 0.05 "Inertia of the rotor";
  Terminal a "Positive terminal" annotation (Placement(transformation(extent={{-70,90},{-50,110}})));
  Terminal b "Negative terminal" annotation (Placement(transformation(extent={{50,90},{70,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Terminal fa "Field, positive" annotation (Placement(transformation(extent={{-110,30},{-90,50}})));
  Terminal fb "Field, negative" annotation (Placement(transformation(extent={{-110,-50},{-90,-30}})));
  Current i_a(start=0, fixed=true) "Armature current";
  Current i_f(start=0, fixed=true) "Field current";
  Angle phi(start=0, stateSelect=StateSelect.prefer) "Angle of the rotor";
  AngularVelocity w(start=0, stateSelect=StateSelect.prefer, displayUnit="rpm") "Speed";
  Torque tau_e "Torque of the currents";
equation
  a.i = i_a;
  a.i + b.i = 0;
  fa.i = i_f;
  fa.i + fb.i = 0;
  a.v - b.v = R_a*i_a + L_a*der(i_a) + L_af*i_f*w;
  fa.v - fb.v = R_f*i_f + L_f*der(i_f);
  tau_e = L_af*i_f*i_a;
  phi = shaft.phi;
  w = der(phi);
  J*der(w) = tau_e + shaft.tau;
  loss = R_a*i_a^2 + R_f*i_f^2;
  annotation (
    Icon(graphics={
      Line(points={{-60,100},{-60,36}}, color={40,44,60}),
      Line(points={{60,100},{60,36}}, color={40,44,60}),
      Line(points={{-100,40},{-84,40},{-84,-40},{-100,-40}}, color={40,44,60}),
      Ellipse(extent={{-70,70},{70,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,46},{50,-20}}, textString="M"),
      Text(extent={{-50,-16},{50,-56}}, textString="="),
      Line(points={{70,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>v_a = R_a i_a + L_a di_a/dt + L_af i_f w</i>, <i>v_f = R_f i_f + L_f di_f/dt</i>, <i>tau = L_af i_f i_a</i></p></html>"),
    __Movrel(synonyms={"shunt", "field", "Ward-Leonard", "DC machine"}, source="Mohan, Electric Machines and Drives, 2012, chapter 7"));
end ExcitedMotor;
