within Movrel.Rotational;
model PowerMeter "Measures the power from a to b"
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalOut P(unit="W") "Measures the power from" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  a.phi = b.phi;
  a.tau + b.tau = 0;
  P = a.tau*der(a.phi);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="P"),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It is rigid and has no mass.</p></html>"),
    __Movrel(synonyms={"measure", "sensor"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end PowerMeter;
