within Movrel.Signals;
block Power "Raises a signal to a power, keeping its sign"
  parameter Real n = 2 "Exponent";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = if u >= 0 then max(u, 0)^n else -max(-u, 0)^n;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="u^n"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="n = %n")}),
    Documentation(info="<html><p>y = sign(u) |u|<sup>n</sup></p></html>"),
    __Movrel(synonyms={"square", "exponent", "root"}, source="Definition"));
end Power;
