within Movrel.Signals;
block Step "Jumps from one value to another"
  parameter Real before = 0 "Value before the jump";
  parameter Real after = 1 "Value from the jump on";
  parameter Movrel.Units.Time delay = 0 "When it jumps";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = if time >= delay then after else before;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-10,-60},{-10,60},{80,60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%after")}),
    Documentation(info="<html><p>The jump is a time event and is met exactly.</p></html>"),
    __Movrel(synonyms={"jump", "switch on"}, source="Definition"));
end Step;
