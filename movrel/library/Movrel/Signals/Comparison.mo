within Movrel.Signals;
block Comparison "True while the first signal is above the second"
  import Movrel.Units.*;
  parameter Real band(min=0) = 0 "It becomes false only this far below";
  SignalIn u_1 "First signal" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn u_2 "Second signal" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  LogicOut y(start=false, fixed=true) "First above second" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = u_1 > u_2 or (pre(y) and u_1 > u_2 - band);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString=">"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = u_1 > u_2</i>; once true it stays so until u_1 has fallen below u_2 by the band.</p></html>"),
    __Movrel(synonyms={"comparator", "greater", "threshold", "relational"}, source="Definition"));
end Comparison;
