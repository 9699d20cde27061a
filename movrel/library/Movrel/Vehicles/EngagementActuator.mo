within Movrel.Vehicles;
block EngagementActuator "Actuator of a clutch or brake: it fills, then presses"
  import Movrel.Units.*;
  parameter Time t_fill(min=0) = 0.08 "Time until it begins to press";
  parameter Time t_on(min=1e-6) = 0.15 "Time from the beginning to the full force";
  parameter Time t_off(min=1e-6) = 0.05 "Time in which it lets go";
  Movrel.Signals.LogicIn on "Engage" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.SignalOut y "How far it is engaged, 0 to 1" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  Real x(start=0, fixed=true) "Way over that of the full force: fills below 0";
  parameter Ratio lost = t_fill/t_on "Way until it presses";
equation
  der(x) = if on then (if noEvent(x < 1 + lost) then 1/t_on else 0) else (if noEvent(x > 0) then -(1 + lost)/t_off else 0);
  y = min(max(x - lost, 0), 1);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="on→y"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Its way grows steadily: for <i>t_fill</i> without force, then within <i>t_on</i> to the full one.</p></html>"),
    __Movrel(synonyms={"solenoid", "hydraulic actuator", "clutch control", "fill time"}, source="Definition"));
end EngagementActuator;
