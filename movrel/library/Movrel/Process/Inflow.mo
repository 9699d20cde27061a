within Movrel.Process;
model Inflow "Volume flow driven by a signal"
  Movrel.Signals.SignalIn q(unit="m3/s", displayUnit="l/s") "Volume flow to deliver"
    annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  LiquidPort port "Where the liquid leaves" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.q = -q;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-70,70},{70,-70}}, lineColor={38,106,118}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, lineThickness=0.5),
      Line(points={{-100,0},{-70,0}}, color={40,44,60}),
      Line(points={{-40,0},{34,0}}, color={38,106,118}, thickness=0.5),
      Polygon(points={{16,22},{48,0},{16,-22},{16,22}}, lineColor={38,106,118}, fillColor={38,106,118}, fillPattern=FillPattern.Solid),
      Line(points={{70,0},{90,0}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,120},{150,80}}, textString="%name")}),
    Documentation(info="<html><p>An ideal source: it delivers <i>q</i> whatever the pressure.</p></html>"),
    __Movrel(synonyms={"source", "feed", "rain"}, source="Definition"));
end Inflow;
