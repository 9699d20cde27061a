within VarrowQuay;
model TugGearbox "Gearbox of the tug with its controller: three gears, chosen by a state machine"
  parameter Real ratios[3] = {4.2, 2.1, 1.2} "Ratios of the gears";
  parameter Real w_up(unit="rad/s", displayUnit="rpm") = 300 "Speed of the input above which it shifts up";
  parameter Real w_down(unit="rad/s", displayUnit="rpm") = 125 "Speed of the input below which it shifts down";
  Movrel.Rotational.Shaft a "Input shaft"
    annotation (Placement(transformation(extent={{-170,-10},{-150,10}}), iconTransformation(extent={{-110,-10},{-90,10}})));
  Movrel.Rotational.Shaft b "Output shaft"
    annotation (Placement(transformation(extent={{150,-10},{170,10}}), iconTransformation(extent={{90,-10},{110,10}})));
  Movrel.Vehicles.Gearbox box(ratios=ratios, tau_max=900) "Gears and clutch"
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Rotational.Tachometer speed "Speed of the input"
    annotation (Placement(transformation(extent={{-100,-90},{-60,-50}})));
  Movrel.Signals.State first
    annotation (Placement(transformation(extent={{-112,60},{-68,104}})));
  Movrel.Signals.State second
    annotation (Placement(transformation(extent={{-22,120},{22,164}})));
  Movrel.Signals.State third
    annotation (Placement(transformation(extent={{68,60},{112,104}})));
  Integer gear "Gear that is engaged";
protected
  Clock tick = Clock(0.2);
equation
  connect(a, box.a);
  connect(box.b, b);
  connect(a, speed.a);
  initialState(first);
  transition(first, second, speed.w > w_up and ticksInState() > 4, immediate=false);
  transition(second, third, speed.w > w_up and ticksInState() > 4, immediate=false, priority=1);
  transition(second, first, speed.w < w_down and ticksInState() > 4, immediate=false, priority=2);
  transition(third, second, speed.w < w_down and ticksInState() > 4, immediate=false);
  gear = if activeState(first) then 1 elseif activeState(second) then 2 else 3;
  box.gear = gear;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-40,60},{-40,-20}}, color={40,44,60}),
      Line(points={{0,60},{0,-20}}, color={40,44,60}),
      Line(points={{40,60},{40,-20}}, color={40,44,60}),
      Text(extent={{-90,-40},{90,-90}}, textString=DynamicSelect("1 2 3", String(gear))),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It looks five times a second and stays at least a second in a gear; while it shifts, its clutch lets go.</p></html>"));
end TugGearbox;
