within Movrel.Hydraulics;
model PressureGauge "Measures a pressure"
  import Movrel.Units.*;
  OilPort a "Where" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut p(unit="Pa") "Pressure above the surroundings" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  a.q = 0;
  p = a.p;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-34,-34},{34,34}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-100,0},{-60,0}}, color={70,76,138}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>No flow.</p></html>"),
    __Movrel(synonyms={"measure", "manometer", "pressure sensor", "transducer"}, source="symbol ISO 1219-1"));
end PressureGauge;
