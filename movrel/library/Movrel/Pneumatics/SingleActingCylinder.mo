within Movrel.Pneumatics;
model SingleActingCylinder "Cylinder that gas drives out and a spring drives in"
  import Movrel.Units.*;
  extends Movrel.Translational.Piston(c_stop=1e7, stroke=0.1);
  parameter Length d_piston(min=1e-9, displayUnit="mm") = 0.04 "Diameter of the piston";
  final parameter Area A = pi*d_piston^2/4 "Area of the piston";
  parameter TranslationalStiffness c(min=0) = 2000 "Stiffness of the spring that drives it back";
  parameter Force f_0(min=0) = 50 "Force of the spring when the rod is in";
  parameter Pressure p_start(displayUnit="bar", min=0) = gas.p_ambient "Absolute pressure at the start";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = 0.05*A*stroke "Volume that is left when the rod is in";
  parameter ThermalConductance G(min=0) = 0.5 "Conductance for heat between the gas of a chamber and its wall";
  outer Gas gas "Gas of the circuit";
  GasPort a "Chamber" annotation (Placement(transformation(extent={{-70,-110},{-50,-90}})));
  DrivenChamber chamber(A=A, V_dead=V_dead, G=G, p_start=p_start) "Chamber";
equation
  chamber.s = s;
  chamber.v = v;
  connect(a, chamber.port);
  f_pressure = A*(chamber.p - gas.p_ambient) - c*s - f_0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,40},{80,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent=DynamicSelect({{-34,40},{-14,-40}}, {{-80 + 130*s/stroke,40},{-60 + 130*s/stroke,-40}}), lineColor={40,44,60}, fillColor={200,210,216}, fillPattern=FillPattern.Solid),
      Line(points=DynamicSelect({{-14,0},{100,0}}, {{-60 + 130*s/stroke,0},{100,0}}), color={40,44,60}, thickness=1),
      Line(points=DynamicSelect({{-14,-30},{6,30},{26,-30},{46,30},{66,-30},{80,30}}, {{-60 + 130*s/stroke,-30},{6,30},{26,-30},{46,30},{66,-30},{80,30}}), color={40,44,60}),
      Line(points={{-60,-40},{-60,-100}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,90},{150,50}}, textString="%name")}),
    Documentation(info="<html><p><i>f = A (p - p_ambient) - f_0 - c s</i>; balances of mass and energy in the chamber.</p></html>"),
    __Movrel(synonyms={"actuator", "ram", "spring return"}, source="Beater, Pneumatic Drives, 2007, chapter 7; symbol ISO 1219-1"));
end SingleActingCylinder;
