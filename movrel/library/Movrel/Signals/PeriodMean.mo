within Movrel.Signals;
block PeriodMean "Mean over the last period"
  import Movrel.Units.*;
  parameter Movrel.Units.Time period(min=1e-9) = 0.02 "Length of the period";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Mean" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  Real sum(start=0, fixed=true) "Integral since the start";
  Real before "Integral a period ago";
equation
  der(sum) = u;
  before = delay(sum, period);
  y = if time < period then (if time > 1e-6*period then sum/max(time, 1e-6*period) else u) else (sum - before)/period;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="ø T"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = (1/T) ∫ u dt over the last period T</i>; before the first is over, over the time until then.</p></html>"),
    __Movrel(synonyms={"average", "moving average", "mean value", "ripple"}, source="Definition"));
end PeriodMean;
