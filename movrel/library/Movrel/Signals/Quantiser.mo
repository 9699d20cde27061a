within Movrel.Signals;
block Quantiser "Rounds to whole multiples of a step"
  parameter Real q(min=1e-300) = 0.1 "Step";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = q*floor(u/q + 0.5);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-45,-60},{-45,-20},{-10,-20},{-10,20},{25,20},{25,60},{80,60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%q")}),
    Documentation(info="<html><p><i>y = q round(u/q)</i></p></html>"),
    __Movrel(synonyms={"resolution", "AD converter", "rounding", "encoder"}, source="Definition"));
end Quantiser;
