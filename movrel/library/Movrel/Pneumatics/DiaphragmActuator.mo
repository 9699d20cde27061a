within Movrel.Pneumatics;
model DiaphragmActuator "Diaphragm actuator against a spring"
  import Movrel.Units.*;
  extends Movrel.Translational.Piston(c_stop=1e7, stroke=0.03, give=1e-4);
  parameter Area A(min=1e-12, displayUnit="cm2") = 200e-4 "Effective area of the diaphragm";
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
      Polygon(points={{-70,60},{70,60},{70,10},{-70,10},{-70,60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points=DynamicSelect({{-70,35},{-30,30},{30,30},{70,35}}, {{-70,35},{-30,48 - 30*s/stroke},{30,48 - 30*s/stroke},{70,35}}), color={40,44,60}, thickness=0.5),
      Line(points=DynamicSelect({{0,30},{0,-40},{100,-40},{100,0}}, {{0,48 - 30*s/stroke},{0,-40},{100,-40},{100,0}}), color={40,44,60}, thickness=0.5),
      Line(points={{-20,10},{20,0},{-20,-10},{20,-20},{0,-30}}, color={40,44,60}),
      Line(points={{-60,10},{-60,-100}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p><i>f = A (p - p_ambient) - f_0 - c s</i>; balances of mass and energy in the chamber.</p></html>"),
    __Movrel(synonyms={"valve actuator", "membrane", "brake chamber"}, source="Beater, Pneumatic Drives, 2007; symbol ISO 1219-1"));
end DiaphragmActuator;
