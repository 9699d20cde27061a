within Movrel.Translational;
partial model Piston "Piston that slides in a case: seals that stick and slide, and stops at both ends"
  import Movrel.Units.*;
  parameter Length stroke(min=1e-9, displayUnit="mm") = 0.5 "Stroke";
  parameter Length s_start(displayUnit="mm") = 0 "How far it is out at the start";
  parameter Mass m(min=1e-9) = 2 "Piston and rod";
  parameter Boolean carried = false "Its case is carried by something that moves" annotation (Evaluate=true);
  parameter Force f_c(min=0) = 0 "Friction of the seals while it slides" annotation (Dialog(group="Friction"));
  parameter Ratio peak(min=1) = 1.5 "Friction from standstill over that while it slides" annotation (Dialog(group="Friction"));
  parameter Velocity v_s(min=1e-12) = 0.01 "Stribeck speed" annotation (Dialog(group="Friction"));
  parameter TranslationalDamping d_v(min=0) = 100 "Viscous friction" annotation (Dialog(group="Friction"));
  parameter Length give(min=1e-12, displayUnit="mm") = 5e-5 "How far the seals give before they slide" annotation (Dialog(group="Friction"));
  parameter Time T_give(min=0) = 1e-3 "Damping of that: time in which it dies away" annotation (Dialog(group="Friction"));
  parameter TranslationalStiffness c_stop(min=0) = 2e8 "Stiffness of the stops" annotation (Dialog(group="Stops"));
  parameter TranslationalDamping d_stop(min=0) = c_stop*1e-3 "Damping of the stops" annotation (Dialog(group="Stops"));
  Movrel.Translational.Rod rod "End of the rod" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Translational.Rod case(s=s_case, f=f_case) if carried "Case" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Length s(start=s_start, stateSelect=StateSelect.prefer, displayUnit="mm") "How far it is out";
  Velocity v(start=0, stateSelect=StateSelect.prefer) "Speed of the piston in its case";
  Force f_pressure "Force of the pressures, outwards";
  Force f_friction "Friction of the seals, inwards";
  Force f_stop "Force of the stops, inwards";
  Ratio strain(start=0, stateSelect=StateSelect.prefer) "How far the seals have given, over give: at 1 they slide";
  Power loss "Power turned to heat by friction and in the stops";
protected
  Length s_case "Position of the case";
  Force f_case "Force into the case";
  Velocity v_rod(start=0, stateSelect=StateSelect.prefer) "Speed of the rod";
  Ratio limit "Strain at which the seals slide at this speed";
  Ratio slow "1 at standstill, 0 far above the Stribeck speed";
  Real rate(unit="1/s") "Rate of the strain";
  Power loss_stop "Power lost in the stops";
equation
  if not carried then
    s_case = 0;
  end if;
  s = rod.s - s_case;
  v = der(s);
  v_rod = der(rod.s);
  m*der(v_rod) = f_pressure - f_friction - f_stop + rod.f;
  f_case = f_pressure - f_friction - f_stop;
  slow = exp(-(v/v_s)^2);
  limit = 1 + (peak - 1)*slow;
  rate = (v - abs(v)*strain/limit)/give;
  der(strain) = rate;
  f_friction = f_c*(strain + T_give*slow*rate) + d_v*v;
  f_stop = if s > stroke then max(0, c_stop*(s - stroke) + d_stop*v) elseif s < 0 then min(0, c_stop*s + d_stop*v) else 0;
  loss_stop = if s > stroke then (f_stop - c_stop*(s - stroke))*v elseif s < 0 then (f_stop - c_stop*s)*v else 0;
  loss = f_friction*v - f_c*give*strain*rate + loss_stop;
  annotation (
    Documentation(info="<html><p><i>m dv/dt = f_pressure - friction - stops + f_rod</i>. The seals give a little, then they slide: <i>dz/dt = v - |v| z/z_s(v)</i>, friction <i>f_c z/give + d_v v</i>; under less than the friction from standstill the piston stays where it is. The stops are springs with dampers that only push.</p></html>"),
    __Movrel(source="Canudas de Wit, Olsson, Åström and Lischinsky, IEEE Trans. Automatic Control 40 (1995) 419"));
end Piston;
