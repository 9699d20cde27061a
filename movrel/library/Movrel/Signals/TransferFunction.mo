within Movrel.Signals;
block TransferFunction "Transfer function by its coefficients"
  parameter Real b[:] = {1} "Coefficients of the numerator, highest power of s first";
  parameter Real a[:] = {1, 1} "Coefficients of the denominator, highest power of s first";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  parameter Integer n = size(a, 1) - 1 "Order";
  parameter Real c[n + 1] = cat(1, zeros(n + 1 - size(b, 1)), b) "Numerator, filled up";
  Real x[n](each start=0, each fixed=true) "States";
equation
  assert(size(b, 1) <= size(a, 1), "the numerator must not have a higher order than the denominator");
  assert(abs(a[1]) > 0, "the first coefficient of the denominator must not be zero");
  if n == 0 then
    y = c[1]/a[1]*u;
  else
    der(x[1]) = (u - a[2:n + 1]*x)/a[1];
    for i in 2:n loop
      der(x[i]) = x[i - 1];
    end for;
    y = c[2:n + 1]*x + c[1]*der(x[1]);
  end if;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-80,90},{80,14}}, textString="b(s)"),
      Line(points={{-70,0},{70,0}}, color={40,44,60}),
      Text(extent={{-80,-14},{80,-90}}, textString="a(s)"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = b(s)/a(s) u in controllable canonical form, at rest at the start</i></p></html>"),
    __Movrel(synonyms={"polynomial", "Laplace", "filter", "plant"}, source="Kailath, Linear Systems, 1980, section 2.1"));
end TransferFunction;
