within Movrel.Signals;
block Pulse "Rectangular pulses that repeat"
  parameter Real height = 1 "Height of a pulse above the rest value";
  parameter Real rest = 0 "Value between pulses";
  parameter Movrel.Units.Time width(min=0) = 0.5 "How long a pulse lasts";
  parameter Movrel.Units.Time period(min=1e-9) = 1 "Time from one pulse to the next";
  parameter Movrel.Units.Time delay = 0 "Time of the first pulse";
  SignalOut y "Pulses" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = if time >= delay and mod(time - delay, period) < width then rest + height else rest;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-50},{-54,-50},{-54,50},{-16,50},{-16,-50},{22,-50},{22,50},{60,50},{60,-50},{80,-50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%width / %period")}),
    Documentation(info="<html><p>y is <i>rest + height</i> during a pulse, else <i>rest</i>. The flanks are
    time events and are met exactly.</p></html>"),
    __Movrel(synonyms={"square wave", "rain", "cycle"}, source="Definition"));
end Pulse;
