within Movrel.Signals;
block Limiter "Keeps a signal within limits"
  parameter Real y_max = 1 "Upper limit";
  parameter Real y_min = -1 "Lower limit";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  assert(y_max >= y_min, "y_max must not be below y_min");
  y = if u > y_max then y_max elseif u < y_min then y_min else u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-50},{-40,-50},{40,50},{80,50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%y_min to %y_max")}),
    Documentation(info="<html><p><i>y = min(max(u, y_min), y_max)</i></p></html>"),
    __Movrel(synonyms={"saturation", "clip", "clamp", "bound", "saturate"}, source="Definition"));
end Limiter;
