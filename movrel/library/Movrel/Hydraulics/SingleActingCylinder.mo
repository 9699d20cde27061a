within Movrel.Hydraulics;
model SingleActingCylinder "Cylinder that oil drives out and a spring or the load drives in"
  import Movrel.Units.*;
  extends Movrel.Translational.Piston;
  parameter Length d_piston(min=1e-9, displayUnit="mm") = 0.05 "Diameter of the piston";
  parameter TranslationalStiffness c(min=0) = 0 "Stiffness of the spring that drives it in";
  parameter Force f_0(min=0) = 0 "Force of the spring when the rod is in";
  parameter Pressure p_start(displayUnit="bar") = 0 "Pressure at the start";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = 0.05*pi*d_piston^2/4*stroke "Volume that is left when the rod is in";
  final parameter Area A = pi*d_piston^2/4 "Area of the piston";
  outer Oil oil "Oil of the circuit";
  OilPort a "Chamber" annotation (Placement(transformation(extent={{-70,-110},{-50,-90}})));
  Pressure p(displayUnit="bar", start=p_start, stateSelect=StateSelect.prefer) "Pressure in the chamber";
  Volume V(displayUnit="cm3") "What the chamber holds, as volume at ambient pressure";
protected
  Movrel.Thermal.ThermalNode to_oil(Q=-loss) "Where the heat goes" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
equation
  connect(to_oil, oil.heat);
  f_pressure = A*p - c*s - f_0;
  V = (A*s + V_dead)/relative_volume(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  (A*s + V_dead)*capacity(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)*der(p) = a.q - A*v/relative_volume(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  a.p = p;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,40},{80,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent=DynamicSelect({{-34,40},{-14,-40}}, {{-80 + 130*s/stroke,40},{-60 + 130*s/stroke,-40}}), lineColor={40,44,60}, fillColor={200,203,214}, fillPattern=FillPattern.Solid),
      Line(points=DynamicSelect({{-14,0},{100,0}}, {{-60 + 130*s/stroke,0},{100,0}}), color={40,44,60}, thickness=1),
      Line(points=DynamicSelect({{-14,-30},{6,30},{26,-30},{46,30},{66,-30},{80,30}}, {{-60 + 130*s/stroke,-30},{6,30},{26,-30},{46,30},{66,-30},{80,30}}), color={40,44,60}),
      Line(points={{-60,-40},{-60,-100}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,90},{150,50}}, textString="%name")}),
    Documentation(info="<html><p><i>f = A p - f_0 - c s</i>; <i>d(V/v(p))/dt = q</i>.</p></html>"),
    __Movrel(synonyms={"actuator", "ram", "plunger", "jack", "spring return"}, source="Merritt, Hydraulic Control Systems, 1967, section 5-1; symbol ISO 1219-1"));
end SingleActingCylinder;
