within Movrel.Translational;
partial model Sticking "Friction that sticks or slips"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Velocity v_tiny(min=1e-15) = 1e-7 "Speed from which a start counts as slipping" annotation (Dialog(tab="Numbers"));
  Length s_rel "Position of one side against the other";
  Velocity v_rel "Its speed";
  Acceleration a_rel "The rate of change of the speed";
  Force f "Friction";
  Force f_static "Largest friction while it sticks";
  Force f_slip "Friction while it slips";
  Force f_drag = 0 "Friction that grows with the speed, besides; a part that has it says how";
  Integer way(start=0, fixed=true) "1 and -1 slipping forward and backward, 0 sticking";
protected
  Force forward "How far what it must hold exceeds the limit, while it sticks";
  Force backward "The same the other way";
  Velocity idle "Speed with which it sticks, which only the start can give it";
  Velocity along "Speed in the way in which it slips";
  Acceleration gaining "Its rate of change";
equation
  v_rel = der(s_rel);
  a_rel = der(v_rel);
  if pre(way) == 0 then
    a_rel = 0;
  else
    f = pre(way)*f_slip + f_drag;
  end if;
  forward = if pre(way) == 0 then f - f_static else -1;
  backward = if pre(way) == 0 then -f - f_static else -1;
  idle = if pre(way) == 0 and f_static > 0 then v_rel else 0;
  along = if pre(way) == 0 or f_static <= 0 then 1 else pre(way)*v_rel;
  gaining = if pre(way) == 0 or f_static <= 0 then 1 else pre(way)*a_rel;
  way = if f_static <= 0 then 1
    elseif pre(way) == 0 then (if idle > v_tiny then 1 elseif idle < -v_tiny then -1 elseif forward > 0 then 1 elseif backward > 0 then -1 else 0)
    elseif along < -v_tiny then -pre(way)
    elseif along <= 0 and gaining < 0 then 0 else pre(way);
  loss = f*v_rel;
  annotation (
    Documentation(info="<html><p>While it sticks the speed keeps its value and the force is what the rest of the plant asks for, up to the static limit; while it slips the force is given. Each change is an event. A part that extends it says what slips against what, and both limits.</p></html>"),
    __Movrel(source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Sticking;
