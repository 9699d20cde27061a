within Movrel.Signals;
block Latch "Set by one input, reset by the other, which wins"
  parameter Boolean y_start = false "State at the start";
  LogicIn set "Sets it" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  LogicIn reset "Resets it" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  LogicOut y(start=y_start, fixed=true) "State" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = (set or pre(y)) and not reset;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-95,80},{0,20}}, textString="S"),
      Text(extent={{-95,-20},{0,-80}}, textString="R"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = (set or y before) and not reset</i></p></html>"),
    __Movrel(synonyms={"flip-flop", "memory", "RS"}, source="IEC 60617-12"));
end Latch;
