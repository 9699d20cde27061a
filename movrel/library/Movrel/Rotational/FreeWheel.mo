within Movrel.Rotational;
model FreeWheel "Free wheel: drives one way, overruns the other"
  import Movrel.Units.*;
  parameter Torque tau_catch(min=1e-12) = 1000 "Torque with which it brings b up to a where a is ahead, as after a start";
  parameter AngularVelocity w_tiny(min=1e-15) = 1e-7 "Speed from which a counts as ahead" annotation (Dialog(tab="Numbers"));
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi_rel "Angle of b against a";
  AngularVelocity w_rel "Speed of b against a";
  AngularAcceleration alpha "Its rate of change";
  Torque tau "Torque that a drives b with, never negative";
  Boolean drives(start=true, fixed=true) "Whether it drives";
  Boolean slips(start=false, fixed=true) "Whether it slips, as a is ahead";
protected
  AngularVelocity lag "How far b lags behind a in speed";
  Torque pushing "Torque while it drives";
  AngularVelocity behind "How far b lags in speed while it overruns";
  AngularAcceleration catching "Its rate of change";
equation
  phi_rel = b.phi - a.phi;
  w_rel = der(phi_rel);
  alpha = der(w_rel);
  a.tau = tau;
  b.tau = -tau;
  lag = -w_rel;
  if pre(slips) then
    tau = tau_catch;
  elseif pre(drives) then
    alpha = 0;
  else
    tau = 0;
  end if;
  slips = if pre(slips) then lag > 0 else lag > w_tiny;
  drives = not slips and (pre(slips) or (if pre(drives) then pushing >= 0 and w_rel < w_tiny else behind >= 0 and catching > 0));
  pushing = if pre(drives) and not pre(slips) then tau else 1;
  behind = if pre(drives) or pre(slips) then -1 else -w_rel;
  catching = if pre(drives) or pre(slips) then -1 else -alpha;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={40,44,60}, thickness=0.5),
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}),
      Ellipse(extent={{-30,30},{30,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,30},{40,44}}, color={40,44,60}),
      Line(points={{26,-15},{18,-57}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>While it drives both shafts turn alike and <i>tau ≥ 0</i>; when b runs ahead <i>tau = 0</i>. Where a is ahead, as after a start with unequal speeds, it slips with <i>tau_catch</i> until both turn alike. Each change is an event.</p></html>"),
    __Movrel(synonyms={"freewheel", "sprag", "overrunning", "ratchet"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end FreeWheel;
