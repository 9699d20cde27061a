within Movrel.Signals;
block Edge "True for an instant when the input becomes true"
  LogicIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  LogicOut y "Result" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = edge(u);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-60,-50},{0,-50},{0,50},{60,50}}, color={40,44,60}),
      Line(points={{-14,-4},{0,16},{14,-4}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = edge(u)</i></p></html>"),
    __Movrel(synonyms={"rising edge", "trigger"}, source="IEC 61131-3"));
end Edge;
