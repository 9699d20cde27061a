within Movrel.Signals;
block DiscretePI "PI controller that works in steps, with limits"
  import Movrel.Units.*;
  parameter Movrel.Units.Time period(min=1e-9) = 0.1 "Time between two samples";
  parameter Real K = 1 "Gain";
  parameter Movrel.Units.Time T_i(min=1e-12) = 1 "Reset time";
  parameter Real y_max = 1 "Upper limit of the output" annotation (Dialog(group="Limits"));
  parameter Real y_min = 0 "Lower limit of the output" annotation (Dialog(group="Limits"));
  parameter Real y_start = 0 "Output at the start" annotation (Dialog(group="Start"));
  SignalIn w "Set point" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn x "Measured value" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  discrete SignalOut y(start=y_start, fixed=true) "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  discrete Real I(start=y_start, fixed=true) "Integral part";
  discrete Real e(start=0, fixed=true) "Deviation";
equation
  assert(y_max > y_min, "y_max must be above y_min");
  when sample(0, period) then
    e = w - x;
    y = min(max(K*e + pre(I), y_min), y_max);
    I = if K*e + pre(I) > y_max or K*e + pre(I) < y_min then y - K*e else pre(I) + K*period/T_i*e;
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,60},{92,-20}}, textString="PI z"),
      Text(extent={{-92,-20},{92,-80}}, textString="K %K"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%period")}),
    Documentation(info="<html><p><i>y = K e + I at each sample, I := I + K T/T_i e; at a limit I is what just gives the limit (anti-windup)</i></p></html>"),
    __Movrel(synonyms={"digital controller", "sampled", "feedback", "anti-windup"}, source="Åström and Wittenmark, Computer-Controlled Systems, section 8.5"));
end DiscretePI;
