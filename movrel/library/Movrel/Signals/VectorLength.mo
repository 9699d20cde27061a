within Movrel.Signals;
block VectorLength "Length of a vector"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 2 "Number of its components";
  SignalIn u[n] "Components" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Length" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = sqrt(sum(u[i]^2 for i in 1:n));
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="|u|"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = √(Σ u²)</i></p></html>"),
    __Movrel(synonyms={"magnitude", "norm", "resultant", "hypotenuse"}, source="Definition"));
end VectorLength;
