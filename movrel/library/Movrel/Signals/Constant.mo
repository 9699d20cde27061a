within Movrel.Signals;
block Constant "A value that does not change"
  parameter Real value = 1 "Value of the signal";
  SignalOut y "The value" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = value;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,0},{80,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-90,70},{90,14}}, textString="%value")}),
    Documentation(info="<html><p><i>y = value</i></p></html>"),
    __Movrel(synonyms={"fixed value", "set point", "offset"}, source="Definition"));
end Constant;
