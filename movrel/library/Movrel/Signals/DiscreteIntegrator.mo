within Movrel.Signals;
block DiscreteIntegrator "Sum of samples times the period"
  import Movrel.Units.*;
  parameter Movrel.Units.Time period(min=1e-9) = 0.1 "Time between two samples";
  parameter Real k = 1 "Factor";
  parameter Real y_start = 0 "Value at the start";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  discrete SignalOut y(start=y_start, fixed=true) "The sum" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  when sample(period, period) then
    y = pre(y) + k*period*u;
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,46},{90,-46}}, textString="T/(z-1)"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%period")}),
    Documentation(info="<html><p><i>y := y + k T u at each sample (rectangle rule)</i></p></html>"),
    __Movrel(synonyms={"accumulator", "sum"}, source="Åström and Wittenmark, Computer-Controlled Systems"));
end DiscreteIntegrator;
