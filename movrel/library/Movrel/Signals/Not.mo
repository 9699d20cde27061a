within Movrel.Signals;
block Not "True when the input is not"
  LogicIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  LogicOut y "Result" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = not u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="1"),
      Ellipse(extent={{100,12},{124,-12}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = not u</i></p></html>"),
    __Movrel(synonyms={"invert", "negation"}, source="IEC 60617-12"));
end Not;
