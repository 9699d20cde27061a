within Movrel.Signals;
block Statistics "Least, largest, mean and effective value since the start"
  import Movrel.Units.*;
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y_max "Largest value so far" annotation (Placement(transformation(extent={{100,65},{120,85}})));
  SignalOut y_min "Least value so far" annotation (Placement(transformation(extent={{100,15},{120,35}})));
  SignalOut mean "Mean value so far" annotation (Placement(transformation(extent={{100,-35},{120,-15}})));
  SignalOut rms "Root of the mean square so far" annotation (Placement(transformation(extent={{100,-85},{120,-65}})));
  parameter Movrel.Units.Time T(min=1e-12) = 1e-6 "Time constant with which the extremes follow";
protected
  Real sum1(start=0, fixed=true) "Integral of the signal";
  Real sum2(start=0, fixed=true) "Integral of its square";
  parameter Movrel.Units.Time t_0(fixed=false) "Start of the run";
initial equation
  t_0 = time;
  y_max = u;
  y_min = u;
equation
  der(sum1) = u;
  der(sum2) = u^2;
  der(y_max) = if u > y_max then (u - y_max)/T else 0;
  der(y_min) = if u < y_min then (u - y_min)/T else 0;
  mean = if time > t_0 + 1e-9 then sum1/(time - t_0) else u;
  rms = if time > t_0 + 1e-9 then sqrt(max(sum2, 0)/(time - t_0)) else abs(u);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,90},{90,40}}, textString="max min"),
      Text(extent={{-90,20},{90,-30}}, textString="mean"),
      Text(extent={{-90,-45},{90,-95}}, textString="rms"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>mean = (1/t) ∫ u dt, rms = √((1/t) ∫ u² dt)</i></p></html>"),
    __Movrel(synonyms={"average", "effective value", "peak", "extreme"}, source="Definition"));
end Statistics;
