within Movrel.Vehicles;
block ShiftSchedule "Chooses the gear by the speed, for any number of gears"
  import Movrel.Units.*;
  parameter Velocity up[:](each displayUnit="km/h") = {4, 8, 13, 19} "Speeds above which it shifts up from each gear";
  parameter Velocity down[:](each displayUnit="km/h") = {2.5, 5.5, 9.5, 14} "Speeds below which it shifts down into each gear";
  parameter Time period(min=1e-3) = 0.05 "Time between two looks";
  parameter Time t_wait(min=0) = 1 "Time that a gear stays at least";
  Movrel.Signals.SignalIn v(unit="m/s") "Speed" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.CountOut gear(start=1, fixed=true) "Gear" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  discrete Time t_0(start=-1e3, fixed=true) "Time of the last shift";
  discrete Real v_up "Speed above which it shifts up now";
  discrete Real v_down "Speed below which it shifts down now";
equation
  assert(size(up, 1) == size(down, 1), "up and down must have as many speeds as there are shifts");
  when sample(0, period) then
    v_up = sum(if k == pre(gear) then up[k] else 0 for k in 1:size(up, 1));
    v_down = sum(if k + 1 == pre(gear) then down[k] else 0 for k in 1:size(down, 1));
    gear = if time - pre(t_0) < t_wait then pre(gear)
      elseif pre(gear) <= size(up, 1) and v > v_up then pre(gear) + 1
      elseif pre(gear) > 1 and v < v_down then pre(gear) - 1 else pre(gear);
    t_0 = if gear <> pre(gear) then time else pre(t_0);
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="v→gear"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Line(points={{-60,-70},{-20,-70},{-20,-56},{20,-56},{20,-42},{60,-42}}, color={40,44,60})}),
    Documentation(info="<html><p>At each look: up if the speed is above <i>up</i> of the gear, down if below <i>down</i> of the gear below; a gear stays for <i>t_wait</i> at least.</p></html>"),
    __Movrel(synonyms={"shift controller", "transmission control", "gear selector", "automatic"}, source="Mitschke and Wallentowitz, Dynamik der Kraftfahrzeuge"));
end ShiftSchedule;
