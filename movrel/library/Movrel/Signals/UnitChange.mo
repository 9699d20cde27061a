within Movrel.Signals;
block UnitChange "The same quantity in another unit"
  parameter Real factor = 1 "Factor";
  parameter Real offset = 0 "What is added";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = factor*u + offset;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="[ ]→[ ]"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="× %factor")}),
    Documentation(info="<html><p><i>y = factor u + offset</i></p></html>"),
    __Movrel(synonyms={"convert", "scale", "conversion"}, source="Definition"));
end UnitChange;
