within Movrel.Process;
model PressureGauge "Measures a pressure"
  import Movrel.Units.*;
  LiquidPort a "Where" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut p(unit="Pa") "Pressure above the surroundings" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  a.q = 0;
  p = a.p;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="P"),
      Line(points={{-100,0},{-60,0}}, color={38,106,118}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>No flow.</p></html>"),
    __Movrel(synonyms={"measure", "manometer", "gauge"}, source="symbol ISO 14617"));
end PressureGauge;
