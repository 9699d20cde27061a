within Movrel.Signals;
block Absolute "Size of a signal without its sign"
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = if u >= 0 then u else -u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="|u|"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = |u|</i></p></html>"),
    __Movrel(synonyms={"abs", "rectify", "magnitude", "modulus"}, source="Definition"));
end Absolute;
