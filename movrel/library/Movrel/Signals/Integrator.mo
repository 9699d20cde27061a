within Movrel.Signals;
block Integrator "Integral of a signal over time"
  parameter Real k = 1 "Factor";
  parameter Real y_start = 0 "Value at the start";
  SignalIn u "What is integrated" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y(start=y_start, fixed=true) "The integral" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  der(y) = k*u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,60},{90,-60}}, textString="∫"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%k")}),
    Documentation(info="<html><p><i>dy/dt = k u</i>, from <i>y_start</i>.</p></html>"),
    __Movrel(synonyms={"accumulate", "1/s", "integral"}, source="Definition"));
end Integrator;
