within Movrel.Hydraulics;
partial model Piston "Piston that slides in a case: friction that sticks, and stops at both ends"
  import Movrel.Units.*;
  extends Movrel.Translational.Sticking(final heated=false);
  parameter Length stroke(min=1e-9, displayUnit="mm") = 0.5 "Stroke";
  parameter Length s_start(displayUnit="mm") = 0 "How far it is out at the start";
  parameter Mass m(min=1e-9) = 2 "Piston and rod";
  parameter Boolean carried = false "Its case is carried by something that moves" annotation (Evaluate=true);
  parameter Force f_c(min=0) = 0 "Friction of the seals while it slides" annotation (Dialog(group="Friction"));
  parameter Force f_s(min=0) = 1.5*f_c "Friction from standstill" annotation (Dialog(group="Friction"));
  parameter Velocity v_s(min=1e-12) = 0.01 "Stribeck speed" annotation (Dialog(group="Friction"));
  parameter TranslationalDamping d_v(min=0) = 100 "Viscous friction" annotation (Dialog(group="Friction"));
  parameter TranslationalStiffness c_stop(min=0) = 2e8 "Stiffness of the stops" annotation (Dialog(group="Stops"));
  parameter TranslationalDamping d_stop(min=0) = c_stop*1e-3 "Damping of the stops" annotation (Dialog(group="Stops"));
  Movrel.Translational.Rod rod "End of the rod" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Translational.Rod case(s=s_case, f=f_case) if carried "Case" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Length s(start=s_start, stateSelect=StateSelect.prefer, displayUnit="mm") "How far it is out";
  Velocity v(start=0, stateSelect=StateSelect.prefer) "Speed of the piston in its case";
  Force f_pressure "Force of the pressures, outwards";
  Force f_stop "Force of the stops, inwards";
protected
  Length s_case "Position of the case";
  Force f_case "Force into the case";
  Velocity v_rod "Speed of the rod";
  Power loss_stop "Power lost in the stops";
equation
  assert(f_s >= f_c, "f_s must not be below f_c");
  if not carried then
    s_case = 0;
  end if;
  s = rod.s - s_case;
  s_rel = s;
  v = der(s);
  v_rod = der(rod.s);
  m*der(v_rod) = f_pressure - f - f_stop + rod.f;
  f_case = f_pressure - f - f_stop;
  f_slip = f_c + (f_s - f_c)*exp(-(v_rel/v_s)^2) + d_v*abs(v_rel);
  f_static = f_s;
  f_stop = if s > stroke then max(0, c_stop*(s - stroke) + d_stop*v) elseif s < 0 then min(0, c_stop*s + d_stop*v) else 0;
  loss_stop = if s > stroke then (f_stop - c_stop*(s - stroke))*v elseif s < 0 then (f_stop - c_stop*s)*v else 0;
  annotation (
    Documentation(info="<html><p><i>m dv/dt = f_pressure - friction - stops + f_rod</i>. The friction really sticks; the stops are springs with dampers that only push.</p></html>"),
    __Movrel(source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Piston;
