within Movrel.Signals;
block RateLimiter "Follows a signal no faster than given"
  import Movrel.Units.*;
  parameter Real rising(min=1e-12) = 1 "Fastest rise per second";
  parameter Real falling(max=-1e-12) = -1 "Fastest fall per second, negative";
  parameter Movrel.Units.Time T(min=1e-9) = 1e-3 "Time constant with which it closes up to the input";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
initial equation
  y = u;
equation
  der(y) = if u - y > T*rising then rising elseif u - y < T*falling then falling else (u - y)/T;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-30,-60},{30,60},{80,60}}, color={40,44,60}),
      Line(points={{-20,-60},{-20,60},{80,60}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%rising")}),
    Documentation(info="<html><p><i>dy/dt = (u - y)/T, limited to falling ... rising</i></p></html>"),
    __Movrel(synonyms={"slew rate", "gradient limiter", "ramp"}, source="Definition"));
end RateLimiter;
