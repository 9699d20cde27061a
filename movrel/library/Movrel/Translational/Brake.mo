within Movrel.Translational;
model Brake "Brake against the ground, applied by a signal"
  import Movrel.Units.*;
  parameter Force f_max(min=0) = 100 "Largest force while it slips, fully applied";
  parameter Ratio peak(min=1) = 1 "Static over sliding friction";
  parameter Velocity v_tiny(min=1e-15) = 1e-7 "Speed from which a start counts as slipping" annotation (Dialog(tab="Numbers"));
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.RealInput u "How far it is applied, 0 to 1" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Length s_rel "Position";
  Velocity v_rel "Speed";
  Acceleration a_rel "Its rate of change";
  Force f "Friction";
  Force f_static "Largest friction while it sticks";
  Force f_slip "Friction while it slips";
  Integer way(start=0, fixed=true) "1 and -1 slipping forward and backward, 0 sticking";
  Power loss "Power turned to heat";
protected
  Force forward "How far what it must hold exceeds the limit, while it sticks";
  Force backward "The same the other way";
  Velocity along "Speed in the way in which it slips";
  Acceleration gaining "Its rate of change";
equation
  s_rel = a.s;
  a.f = f;
  v_rel = der(s_rel);
  a_rel = der(v_rel);
  f_slip = f_max*min(max(u, 0), 1);
  f_static = peak*f_slip;
  if pre(way) == 0 then
    a_rel = 0;
  else
    f = pre(way)*f_slip;
  end if;
  forward = if pre(way) == 0 then f - f_static else -1;
  backward = if pre(way) == 0 then -f - f_static else -1;
  along = if pre(way) == 0 or f_static <= 0 then 1 else pre(way)*v_rel;
  gaining = if pre(way) == 0 or f_static <= 0 then 1 else pre(way)*a_rel;
  way = if f_static <= 0 then 1 elseif pre(way) == 0 then (if v_rel > v_tiny or forward > 0 then 1 elseif v_rel < -v_tiny or backward > 0 then -1 else 0)
    elseif along <= 0 and gaining < 0 then 0 else pre(way);
  loss = f*v_rel;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{60,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-10,60},{10,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,86},{30,66}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,-66},{30,-86}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,100},{0,86}}, color={40,44,60}),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p>Sliding friction <i>f_max u</i>. It really sticks: while it does, the speed keeps its value and the force is what the rest of the plant asks for, up to the static limit; the change of state is an event.</p></html>"),
    __Movrel(synonyms={"disc brake", "park brake", "holding brake"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Brake;
