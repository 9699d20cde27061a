within Movrel.Translational;
model DryFriction "Coulomb and Stribeck friction against the ground that really sticks"
  import Movrel.Units.*;
  parameter Force f_c(min=0) = 1 "Coulomb friction";
  parameter Force f_s(min=0) = f_c "Friction from standstill, at least the Coulomb friction";
  parameter Velocity v_s(min=1e-12) = 0.01 "Stribeck speed";
  parameter TranslationalDamping d(min=0) = 0 "Viscous friction";
  parameter Velocity v_tiny(min=1e-15) = 1e-7 "Speed from which a start counts as slipping" annotation (Dialog(tab="Numbers"));
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
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
  assert(f_s >= f_c, "f_s must not be below f_c");
  s_rel = a.s;
  a.f = f;
  v_rel = der(s_rel);
  a_rel = der(v_rel);
  f_slip = f_c + (f_s - f_c)*exp(-(v_rel/v_s)^2) + d*abs(v_rel);
  f_static = f_s;
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
      Line(points={{-100,0},{0,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-40,26},{40,0}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-60,0},{60,0}}, color={40,44,60}),
      Line(points={{-60,-26},{-40,0}}, color={40,44,60}),
      Line(points={{-30,-26},{-10,0}}, color={40,44,60}),
      Line(points={{0,-26},{20,0}}, color={40,44,60}),
      Line(points={{30,-26},{50,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%f_c")}),
    Documentation(info="<html><p><i>f = f_c + (f_s - f_c) exp(-(v/v_s)²) + d |v|</i> against the motion. It really sticks: while it does, the speed keeps its value and the force is what the rest of the plant asks for, up to the static limit; the change of state is an event.</p></html>"),
    __Movrel(synonyms={"Coulomb", "Stribeck", "stiction", "stick-slip", "bearing"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end DryFriction;
