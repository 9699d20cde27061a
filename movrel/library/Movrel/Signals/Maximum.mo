within Movrel.Signals;
block Maximum "The larger of two signals"
  SignalIn u_1 "First input" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn u_2 "Second input" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = if u_1 > u_2 then u_1 else u_2;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="max"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = max(u_1, u_2)</i></p></html>"),
    __Movrel(synonyms={"highest", "select", "max"}, source="Definition"));
end Maximum;
