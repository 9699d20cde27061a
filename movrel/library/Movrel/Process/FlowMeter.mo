within Movrel.Process;
model FlowMeter "Measures a flow"
  LiquidPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalOut q(unit="m3/s") "Flow from a to b" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  a.p = b.p;
  a.q + b.q = 0;
  q = a.q;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="F"),
      Line(points={{-100,0},{-60,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>No pressure drop.</p></html>"),
    __Movrel(synonyms={"measure", "flow meter"}, source="symbol ISO 14617"));
end FlowMeter;
