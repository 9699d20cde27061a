within Movrel.Electrical;
block PwmGenerator "Pulse-width modulation with carrier, phase shift and dead time"
  import Movrel.Units.*;
  parameter Frequency f(min=1e-3) = 10e3 "Carrier frequency";
  parameter Ratio shift(min=0, max=1) = 0 "Phase shift as a part of the period";
  parameter Carrier form = Carrier.sawtooth "Carrier: its pulses begin with the period, or lie in its middle";
  parameter Time dead(min=0) = 0 "Dead time: how much later each switch goes on";
  Movrel.Signals.SignalIn duty "Part of the period that the upper switch is on" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.LogicOut high "Upper switch" annotation (Placement(transformation(extent={{100,40},{120,60}})));
  Movrel.Signals.LogicOut low "Lower switch" annotation (Placement(transformation(extent={{100,-60},{120,-40}})));
  Ratio carrier "Part of the period that is over";
protected
  Ratio on "Where the pulse begins in the period";
  Ratio off "Where it ends";
  discrete Ratio d(start=0, fixed=true) "Duty of this period";
  discrete Integer period(start=0, fixed=true) "Number of this period";
equation
  assert(dead*f < 0.5, "the dead time must be shorter than half a period");
  when {initial(), sample(shift/f, 1/f)} then
    d = min(max(duty, 0), 1);
    period = if initial() then -1 else pre(period) + 1;
  end when;
  carrier = time*f - shift - period;
  on = if form == Carrier.sawtooth then 0 else (1 - d)/2;
  off = on + d;
  high = carrier >= on + dead*f and carrier < off;
  low = carrier < on or (carrier >= off + (if d > 0 then dead*f else 0) and carrier < 1);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-30,20},{-30,-60},{20,20},{20,-60},{70,20},{70,-60}}, color={40,44,60}),
      Line(points={{-80,-30},{80,-30}}, color={40,44,60}, pattern=LinePattern.Dash),
      Line(points={{-80,50},{-62,50},{-62,75},{-30,75},{-30,50},{-12,50},{-12,75},{20,75},{20,50},{38,50},{38,75},{70,75},{70,50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%f")}),
    Documentation(info="<html><p>high while the sawtooth is below the duty, or the triangle above its rest, low else; the duty is taken once a period, each switch goes on later by the dead time</p></html>"),
    __Movrel(synonyms={"modulation", "inverter", "chopper", "carrier"}, source="Mohan, Undeland and Robbins, Power Electronics, 3rd ed. 2003, chapter 8"));
end PwmGenerator;
