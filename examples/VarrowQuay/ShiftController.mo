within VarrowQuay;
block ShiftController "Shifts by the speed of the motor: a state machine with four gears"
  parameter Real w_up(unit="rad/s", displayUnit="rpm") = 330 "Motor speed above which it shifts up";
  parameter Real w_down(unit="rad/s", displayUnit="rpm") = 150 "Motor speed below which it shifts down";
  Movrel.Signals.SignalIn w "Motor speed"
    annotation (Placement(transformation(extent={{-180,-10},{-160,10}}), iconTransformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.SignalOut low_1 "Applies the ring brake of the first stage"
    annotation (Placement(transformation(extent={{190,65},{210,85}}), iconTransformation(extent={{100,65},{120,85}})));
  Movrel.Signals.SignalOut high_1 "Engages the clutch of the first stage"
    annotation (Placement(transformation(extent={{190,15},{210,35}}), iconTransformation(extent={{100,15},{120,35}})));
  Movrel.Signals.SignalOut low_2 "Applies the ring brake of the second stage"
    annotation (Placement(transformation(extent={{190,-35},{210,-15}}), iconTransformation(extent={{100,-35},{120,-15}})));
  Movrel.Signals.SignalOut high_2 "Engages the clutch of the second stage"
    annotation (Placement(transformation(extent={{190,-85},{210,-65}}), iconTransformation(extent={{100,-85},{120,-65}})));
  Integer gear "Gear that is engaged, 1 to 4";
  Movrel.Signals.State first
    annotation (Placement(transformation(extent={{-92,8},{-48,52}})));
  Movrel.Signals.State second
    annotation (Placement(transformation(extent={{28,8},{72,52}})));
  Movrel.Signals.State third
    annotation (Placement(transformation(extent={{28,-72},{72,-28}})));
  Movrel.Signals.State fourth
    annotation (Placement(transformation(extent={{-92,-72},{-48,-28}})));
  Clock tick = Clock(0.05);
equation
  initialState(first);
  transition(first, second, w > w_up and ticksInState() > 10, immediate=false);
  transition(second, third, w > w_up and ticksInState() > 10, immediate=false, priority=1);
  transition(third, fourth, w > w_up and ticksInState() > 10, immediate=false, priority=1);
  transition(second, first, w < w_down and ticksInState() > 10, immediate=false, priority=2);
  transition(third, second, w < w_down and ticksInState() > 10, immediate=false, priority=2);
  transition(fourth, third, w < w_down and ticksInState() > 10, immediate=false);
  gear = if activeState(first) then 1 elseif activeState(second) then 2 elseif activeState(third) then 3 else 4;
  low_1 = if gear == 1 or gear == 2 then 1 else 0;
  high_1 = 1 - low_1;
  low_2 = if gear == 1 or gear == 3 then 1 else 0;
  high_2 = 1 - low_2;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="1 2 3 4"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It ticks every 50 ms and stays at least half a second in a gear.</p></html>"));
end ShiftController;
