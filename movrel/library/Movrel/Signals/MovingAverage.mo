within Movrel.Signals;
block MovingAverage "Mean of the last samples"
  import Movrel.Units.*;
  parameter Movrel.Units.Time period(min=1e-9) = 0.1 "Time between two samples";
  parameter Integer n(min=1) = 8 "Number of samples";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  discrete SignalOut y(start=0, fixed=true) "Mean" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  discrete Real x[n](each start=0, each fixed=true) "The last samples";
equation
  when sample(0, period) then
    x[1] = u;
    for i in 2:n loop
      x[i] = pre(x[i - 1]);
    end for;
    y = sum(x)/n;
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="⌀ n"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="n = %n")}),
    Documentation(info="<html><p><i>y = (1/n) Σ of the last n samples</i></p></html>"),
    __Movrel(synonyms={"filter", "FIR", "smoothing"}, source="Oppenheim and Schafer, Discrete-Time Signal Processing"));
end MovingAverage;
