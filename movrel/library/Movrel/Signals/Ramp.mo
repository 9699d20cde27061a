within Movrel.Signals;
block Ramp "Rises steadily from one value to another"
  import Movrel.Units.*;
  parameter Real height = 1 "How much it rises";
  parameter Movrel.Units.Time duration(min=1e-12) = 1 "How long it rises";
  parameter Real offset = 0 "Value before";
  parameter Movrel.Units.Time delay = 0 "When it begins";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = offset + (if time < delay then 0 elseif time < delay + duration then height*(time - delay)/duration else height);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-40,-60},{40,60},{80,60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%height in %duration")}),
    Documentation(info="<html><p><i>y = offset + height (t - delay)/duration, held before and after</i></p></html>"),
    __Movrel(synonyms={"slope", "gradient", "clock", "time"}, source="Definition"));
end Ramp;
