within Movrel.Signals;
block DiscreteTransferFunction "Transfer function in z"
  import Movrel.Units.*;
  parameter Movrel.Units.Time period(min=1e-9) = 0.1 "Time between two samples";
  parameter Real b[:] = {0.1} "Coefficients of the numerator, highest power of z first";
  parameter Real a[:] = {1, -0.9} "Coefficients of the denominator, highest power of z first";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  discrete SignalOut y(start=0, fixed=true) "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  parameter Integer n = size(a, 1) - 1 "Order";
  parameter Real c[n + 1] = cat(1, zeros(n + 1 - size(b, 1)), b) "Numerator, filled up";
  discrete Real x[n + 1](each start=0, each fixed=true) "This and earlier inner values";
equation
  assert(size(b, 1) <= size(a, 1), "the numerator must not have a higher order than the denominator");
  when sample(0, period) then
    x[1] = (u - (if n > 0 then a[2:n + 1]*pre(x[1:n]) else 0))/a[1];
    for i in 2:n + 1 loop
      x[i] = pre(x[i - 1]);
    end for;
    y = c*x;
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-80,90},{80,14}}, textString="b(z)"),
      Line(points={{-70,0},{70,0}}, color={40,44,60}),
      Text(extent={{-80,-14},{80,-90}}, textString="a(z)"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%period")}),
    Documentation(info="<html><p><i>y = b(z)/a(z) u, at rest at the start</i></p></html>"),
    __Movrel(synonyms={"digital filter", "IIR", "z-transform"}, source="Åström and Wittenmark, Computer-Controlled Systems"));
end DiscreteTransferFunction;
