within Movrel.Signals;
block Switch "One of two signals"
  SignalIn u_1 "Passed on while the condition is true" annotation (Placement(transformation(extent={{-120,50},{-100,70}})));
  LogicIn condition "Which one" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalIn u_2 "Passed on while it is false" annotation (Placement(transformation(extent={{-120,-70},{-100,-50}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = if condition then u_1 else u_2;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,60},{-40,60}}, color={40,44,60}),
      Line(points={{-100,-60},{-40,-60}}, color={40,44,60}),
      Line(points=DynamicSelect({{-40,60},{40,0}}, if condition then {{-40,60},{40,0}} else {{-40,-60},{40,0}}), color={40,44,60}, thickness=0.5),
      Line(points={{40,0},{100,0}}, color={40,44,60}),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = u_1 while the condition is true, else u_2</i></p></html>"),
    __Movrel(synonyms={"select", "changeover", "if", "multiplexer"}, source="Definition"));
end Switch;
