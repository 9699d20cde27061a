within Movrel.Pneumatics;
model DoubleRodCylinder "Cylinder with a rod on both sides"
  import Movrel.Units.*;
  extends Movrel.Translational.Piston(c_stop=1e7);
  parameter Length d_piston(min=1e-9, displayUnit="mm") = 0.05 "Diameter of the piston";
  parameter Length d_rod(min=0, displayUnit="mm") = 0.02 "Diameter of the rod";
  parameter Pressure p_a_start(displayUnit="bar", min=0) = gas.p_ambient "Absolute pressure in chamber a at the start";
  parameter Pressure p_b_start(displayUnit="bar", min=0) = gas.p_ambient "Absolute pressure in chamber b at the start";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = 0.05*A_b*stroke "Volume that is left in a chamber at its end";
  parameter ThermalConductance G(min=0) = 0.5 "Conductance for heat between the gas of a chamber and its wall";
  parameter Boolean cushioned = false "Its ends are cushioned" annotation (Evaluate=true, Dialog(group="Cushions"));
  parameter Length l_cushion(min=1e-9, displayUnit="mm") = 0.02 "Length of the cushions" annotation (Dialog(group="Cushions", enable=cushioned));
  parameter Real C_port(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 5e-8 "Sonic conductance of the ports" annotation (Dialog(group="Cushions", enable=cushioned));
  parameter Real C_cushion(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 1e-9 "What is left of it at the end" annotation (Dialog(group="Cushions", enable=cushioned));
  final parameter Area A_a = pi*(d_piston^2 - d_rod^2)/4 "Area that chamber a presses on";
  final parameter Area A_b = pi*(d_piston^2 - d_rod^2)/4 "Area that chamber b presses on";
  outer Gas gas "Gas of the circuit";
  GasPort a "Chamber that drives the rod out" annotation (Placement(transformation(extent={{-70,-110},{-50,-90}})));
  GasPort b "Chamber that drives the rod in" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  DrivenChamber chamber_a(A=A_a, V_dead=V_dead, G=G, p_start=p_a_start, cushioned=cushioned, l_cushion=l_cushion, C=C_port, C_cushion=C_cushion) "Chamber a";
  DrivenChamber chamber_b(A=A_b, V_dead=V_dead, G=G, p_start=p_b_start, cushioned=cushioned, l_cushion=l_cushion, C=C_port, C_cushion=C_cushion) "Chamber b";
equation
  assert(d_rod < d_piston, "the rod must be thinner than the piston");
  chamber_a.s = s;
  chamber_a.v = v;
  chamber_b.s = stroke - s;
  chamber_b.v = -v;
  connect(a, chamber_a.port);
  connect(b, chamber_b.port);
  f_pressure = A_a*chamber_a.p - A_b*chamber_b.p - (A_a - A_b)*gas.p_ambient;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,40},{80,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent=DynamicSelect({{-34,40},{-14,-40}}, {{-80 + 130*s/stroke,40},{-60 + 130*s/stroke,-40}}), lineColor={40,44,60}, fillColor={200,210,216}, fillPattern=FillPattern.Solid),
      Line(points=DynamicSelect({{-14,0},{100,0}}, {{-60 + 130*s/stroke,0},{100,0}}), color={40,44,60}, thickness=1),
      Line(points=DynamicSelect({{-100,0},{-34,0}}, {{-100,0},{-80 + 130*s/stroke,0}}), color={40,44,60}, thickness=1),
      Line(points={{-60,-40},{-60,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{60,-40},{60,-100}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,90},{150,50}}, textString="%name")}),
    Documentation(info="<html><p><i>f = A (p_a - p_b)</i>; in each chamber balances of mass and energy with a moving wall and heat from it.</p></html>"),
    __Movrel(synonyms={"actuator", "air cylinder", "equal area"}, source="Beater, Pneumatic Drives, 2007, chapter 7; symbol ISO 1219-1"));
end DoubleRodCylinder;
