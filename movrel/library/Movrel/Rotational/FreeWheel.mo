within Movrel.Rotational;
model FreeWheel "Free wheel: drives one way, overruns the other"
  import Movrel.Units.*;
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi_rel "Angle of b against a";
  AngularVelocity w_rel "Speed of b against a";
  AngularAcceleration alpha "Its rate of change";
  Torque tau "Torque that a drives b with, never negative";
  Boolean drives(start=true, fixed=true) "Whether it drives";
protected
  Torque pushing "Torque while it drives";
  AngularVelocity behind "How far b lags in speed while it overruns";
  AngularAcceleration catching "Its rate of change";
equation
  phi_rel = b.phi - a.phi;
  w_rel = der(phi_rel);
  alpha = der(w_rel);
  a.tau = tau;
  b.tau = -tau;
  if pre(drives) then
    alpha = 0;
  else
    tau = 0;
  end if;
  drives = if pre(drives) then pushing >= 0 and w_rel < 1e-7 else behind >= 0 and catching > 0;
  pushing = if pre(drives) then tau else 1;
  behind = if pre(drives) then -1 else -w_rel;
  catching = if pre(drives) then -1 else -alpha;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={40,44,60}, thickness=0.5),
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}),
      Ellipse(extent={{-30,30},{30,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,30},{40,44}}, color={40,44,60}),
      Line(points={{26,-15},{18,-57}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>While it drives both shafts turn alike and <i>tau ≥ 0</i>; when b runs ahead <i>tau = 0</i>. Both changes are events.</p></html>"),
    __Movrel(synonyms={"freewheel", "sprag", "overrunning", "ratchet"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end FreeWheel;
