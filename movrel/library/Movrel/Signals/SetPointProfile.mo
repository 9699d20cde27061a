within Movrel.Signals;
block SetPointProfile "Move from one value to another with limited speed and acceleration"
  import Movrel.Units.*;
  parameter Real y_start = 0 "Value at the beginning";
  parameter Real y_end = 1 "Value at the end";
  parameter Real v_max(min=1e-12) = 1 "Largest speed";
  parameter Real a_max(min=1e-12) = 1 "Largest acceleration";
  parameter Movrel.Units.Time delay = 0 "When it begins";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  SignalOut v "Speed" annotation (Placement(transformation(extent={{100,-70},{120,-50}})));
  final parameter Real D = abs(y_end - y_start) "Distance";
  final parameter Real v_top = min(v_max, sqrt(D*a_max)) "Speed that is reached";
  final parameter Movrel.Units.Time T_a = v_top/a_max "How long it speeds up";
  final parameter Movrel.Units.Time T = if D > 0 then T_a + D/v_top else 0 "How long the move takes";
protected
  parameter Real s = if y_end >= y_start then 1 else -1;
  Real t "Time since the beginning";
equation
  t = time - delay;
  v = s*(if t <= 0 or t >= T then 0 elseif t < T_a then a_max*t elseif t < T - T_a then v_top else a_max*(T - t));
  y = if t <= 0 then y_start elseif t < T_a then y_start + s*a_max*t^2/2 elseif t < T - T_a then y_start + s*v_top*(t - T_a/2)
    elseif t < T then y_end - s*a_max*(T - t)^2/2 else y_end;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-60,-60},{-44,-48},{40,48},{56,60},{80,60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%y_start to %to")}),
    Documentation(info="<html><p><i>Trapezoidal profile of the speed: a_max up to v_top = min(v_max, √(D a_max)), then steady, then down</i></p></html>"),
    __Movrel(synonyms={"trapezoid", "motion profile", "reference", "ramp"}, source="Biagiotti and Melchiorri, Trajectory Planning, 2008, section 3.2"));
end SetPointProfile;
