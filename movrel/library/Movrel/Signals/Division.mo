within Movrel.Signals;
block Division "Divides two signals, guarded against a small divisor"
  parameter Real least(min=1e-300) = 1e-9 "Smallest size of the divisor that counts";
  SignalIn u_1 "First input" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn u_2 "Second input" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = u_1/(if abs(u_2) >= least then u_2 elseif u_2 >= 0 then least else -least);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="÷"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>y = u_1/u_2; a divisor nearer to zero than <i>least</i> is taken as that, with its sign</p></html>"),
    __Movrel(synonyms={"ratio", "quotient", "divide", "divider"}, source="Definition"));
end Division;
