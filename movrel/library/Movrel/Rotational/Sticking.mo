within Movrel.Rotational;
partial model Sticking "Friction that sticks or slips"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter AngularVelocity w_tiny(min=1e-15) = 1e-7 "Speed from which a start counts as slipping" annotation (Dialog(tab="Numbers"));
  Angle phi_rel "Position of one side against the other";
  AngularVelocity w_rel "Its speed";
  AngularAcceleration alpha "The rate of change of the speed";
  Torque tau "Friction";
  Torque tau_static "Largest friction while it sticks";
  Torque tau_slip "Friction while it slips";
  Torque tau_drag = 0 "Friction that grows with the speed, besides; a part that has it says how";
  Integer way(start=0, fixed=true) "1 and -1 slipping forward and backward, 0 sticking";
protected
  Torque forward "How far what it must hold exceeds the limit, while it sticks";
  Torque backward "The same the other way";
  AngularVelocity idle "Speed with which it sticks, which only the start can give it";
  AngularVelocity along "Speed in the way in which it slips";
  AngularAcceleration gaining "Its rate of change";
equation
  w_rel = der(phi_rel);
  alpha = der(w_rel);
  if pre(way) == 0 then
    alpha = 0;
  else
    tau = pre(way)*tau_slip + tau_drag;
  end if;
  forward = if pre(way) == 0 then tau - tau_static else -1;
  backward = if pre(way) == 0 then -tau - tau_static else -1;
  idle = if pre(way) == 0 and tau_static > 0 then w_rel else 0;
  along = if pre(way) == 0 or tau_static <= 0 then 1 else pre(way)*w_rel;
  gaining = if pre(way) == 0 or tau_static <= 0 then 1 else pre(way)*alpha;
  way = if tau_static <= 0 then 1
    elseif pre(way) == 0 then (if idle > w_tiny then 1 elseif idle < -w_tiny then -1 elseif forward > 0 then 1 elseif backward > 0 then -1 else 0)
    elseif along < -w_tiny then -pre(way)
    elseif along <= 0 and gaining < 0 then 0 else pre(way);
  loss = tau*w_rel;
  annotation (
    Documentation(info="<html><p>While it sticks the speed keeps its value and the torque is what the rest of the plant asks for, up to the static limit; while it slips the torque is given. Each change is an event. A part that extends it says what slips against what, and both limits.</p></html>"),
    __Movrel(source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Sticking;
