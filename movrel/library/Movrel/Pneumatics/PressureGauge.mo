within Movrel.Pneumatics;
model PressureGauge "Measures an absolute pressure"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  GasPort a "Where" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut p(unit="Pa") "Absolute pressure" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  a.m = 0;
  a.h = gas.c_p*gas.T_ambient;
  p = a.p;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-34,-34},{34,34}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-100,0},{-60,0}}, color={56,104,136}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>No flow.</p></html>"),
    __Movrel(synonyms={"measure", "manometer", "pressure sensor"}, source="symbol ISO 1219-1"));
end PressureGauge;
