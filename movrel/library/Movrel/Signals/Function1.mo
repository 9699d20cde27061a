within Movrel.Signals;
block Function1 "A function of one variable"
  parameter Elementary f = Elementary.sin "Which function";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  if f == Elementary.sin then
    y = sin(u);
  elseif f == Elementary.cos then
    y = cos(u);
  elseif f == Elementary.tan then
    y = tan(u);
  elseif f == Elementary.asin then
    y = asin(u);
  elseif f == Elementary.acos then
    y = acos(u);
  elseif f == Elementary.atan then
    y = atan(u);
  elseif f == Elementary.exp then
    y = exp(u);
  elseif f == Elementary.log then
    y = log(u);
  elseif f == Elementary.log10 then
    y = log10(u);
  elseif f == Elementary.sqrt then
    y = sqrt(u);
  elseif f == Elementary.tanh then
    y = tanh(u);
  elseif f == Elementary.square then
    y = u^2;
  elseif f == Elementary.reciprocal then
    y = 1/u;
  else
    y = if u > 0 then 1 elseif u < 0 then -1 else 0;
  end if;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="%f"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = f(u)</i></p></html>"),
    __Movrel(synonyms={"sine", "cosine", "exponential", "logarithm", "square root", "trigonometry", "sin", "cos", "exp", "log", "sqrt", "tan"}, source="Definition"));
end Function1;
