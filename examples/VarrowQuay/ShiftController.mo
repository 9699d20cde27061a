within VarrowQuay;
block ShiftController "Shifts by the speed of the motor: a state machine with four gears"
  parameter Real w_up(unit="rad/s", displayUnit="rpm") = 330 "Motor speed above which it shifts up";
  parameter Real w_down(unit="rad/s", displayUnit="rpm") = 150 "Motor speed below which it shifts down";
  Movrel.Signals.RealInput w "Motor speed"
    annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.RealOutput low_1 "Applies the ring brake of the first stage"
    annotation (Placement(transformation(extent={{100,65},{120,85}})));
  Movrel.Signals.RealOutput high_1 "Engages the clutch of the first stage"
    annotation (Placement(transformation(extent={{100,15},{120,35}})));
  Movrel.Signals.RealOutput low_2 "Applies the ring brake of the second stage"
    annotation (Placement(transformation(extent={{100,-35},{120,-15}})));
  Movrel.Signals.RealOutput high_2 "Engages the clutch of the second stage"
    annotation (Placement(transformation(extent={{100,-85},{120,-65}})));
  Integer gear "Gear that is engaged, 1 to 4";
  block Gear "One gear"
    annotation (Icon(graphics={
      Rectangle(extent={{-100,60},{100,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, radius=40),
      Text(extent={{-90,30},{90,-30}}, textString="%name")}));
  end Gear;
  Gear first annotation (Placement(transformation(extent={{-90,-20},{-50,20}})));
  Gear second annotation (Placement(transformation(extent={{-30,-20},{10,20}})));
  Gear third annotation (Placement(transformation(extent={{30,-20},{70,20}})));
  Gear fourth annotation (Placement(transformation(extent={{90,-20},{130,20}})));
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
