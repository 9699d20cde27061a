within Movrel.Hydraulics;
partial model TwoChambers "Cylinder with a chamber on each side of its piston"
  import Movrel.Units.*;
  extends Movrel.Translational.Piston;
  parameter Length d_piston(min=1e-9, displayUnit="mm") = 0.05 "Diameter of the piston";
  parameter Length d_rod(min=0, displayUnit="mm") = 0.028 "Diameter of the rod";
  parameter Pressure p_a_start(displayUnit="bar") = 0 "Pressure in chamber a at the start";
  parameter Pressure p_b_start(displayUnit="bar") = 0 "Pressure in chamber b at the start";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = 0.05*A_b*stroke "Volume that is left in a chamber at its end";
  parameter Real leak(unit="m3/(s.Pa)", min=0) = 0 "Leakage past the piston over pressure difference";
  parameter Boolean cushioned = false "Its ends are cushioned" annotation (Evaluate=true, Dialog(group="Cushions"));
  parameter Length l_cushion(min=1e-9, displayUnit="mm") = 0.02 "Length of the cushions" annotation (Dialog(group="Cushions", enable=cushioned));
  parameter Length d_cushion(min=0, displayUnit="mm") = 1e-3 "Diameter of the throttle that is left at the end" annotation (Dialog(group="Cushions", enable=cushioned));
  parameter Length d_port(min=1e-9, displayUnit="mm") = 0.012 "Diameter of the ports" annotation (Dialog(group="Cushions", enable=cushioned));
  parameter Area A_a "Area that chamber a presses on";
  parameter Area A_b "Area that chamber b presses on";
  outer Oil oil "Oil of the circuit";
  OilPort a "Chamber that drives the rod out" annotation (Placement(transformation(extent={{-70,-110},{-50,-90}})));
  OilPort b "Chamber that drives the rod in" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Pressure p_a(displayUnit="bar", start=p_a_start, stateSelect=StateSelect.prefer) "Pressure in chamber a";
  Pressure p_b(displayUnit="bar", start=p_b_start, stateSelect=StateSelect.prefer) "Pressure in chamber b";
  Volume V_a(displayUnit="cm3") "What chamber a holds, as volume at ambient pressure";
  Volume V_b(displayUnit="cm3") "What chamber b holds, as volume at ambient pressure";
protected
  Movrel.Thermal.ThermalNode to_oil(Q=-(loss + loss_flow)) "Where the heat goes" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  VolumeFlowRate q_leak "Leakage from a to b";
  Power loss_flow "Power lost by leakage and cushions";
equation
  assert(d_rod < d_piston, "the rod must be thinner than the piston");
  connect(to_oil, oil.heat);
  f_pressure = A_a*p_a - A_b*p_b;
  V_a = (A_a*s + V_dead)/relative_volume(p_a, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  V_b = (A_b*(stroke - s) + V_dead)/relative_volume(p_b, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  q_leak = leak*(p_a - p_b);
  (A_a*s + V_dead)*capacity(p_a, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)*der(p_a) = a.q - q_leak - A_a*v/relative_volume(p_a, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  (A_b*(stroke - s) + V_dead)*capacity(p_b, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)*der(p_b) = b.q + q_leak + A_b*v/relative_volume(p_b, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  if cushioned then
    a.q = cushion_flow(a.p - p_a, s/l_cushion, d_port, d_cushion, oil.rho);
    b.q = cushion_flow(b.p - p_b, (stroke - s)/l_cushion, d_port, d_cushion, oil.rho);
    loss_flow = q_leak*(flow_energy(p_a, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) - flow_energy(p_b, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient))
      + a.q*(flow_energy(a.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) - flow_energy(p_a, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient))
      + b.q*(flow_energy(b.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) - flow_energy(p_b, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient));
  else
    a.p = p_a;
    b.p = p_b;
    loss_flow = q_leak*(flow_energy(p_a, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) - flow_energy(p_b, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient));
  end if;
  annotation (
    Documentation(info="<html><p><i>d(V/v(p))/dt = q</i> in each chamber, whose volume follows the piston; <i>f = A_a p_a - A_b p_b</i>.</p></html>"),
    __Movrel(source="Merritt, Hydraulic Control Systems, 1967, section 5-1"));
end TwoChambers;
