within Movrel.Pneumatics;
model ServoAssistedActuator "Servo-assisted actuator: a poppet lets air to one side of a diaphragm under vacuum"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Area A(min=1e-9, displayUnit="cm2") = 350e-4 "Area of the diaphragm";
  parameter Length stroke(min=1e-9, displayUnit="mm") = 0.04 "Stroke";
  parameter Ratio boost(min=1.01) = 5 "Force that goes out over the force that comes in, until the vacuum is used up";
  parameter Mass m(min=1e-9) = 0.5 "Moving parts";
  parameter Force f_0(min=0) = 150 "Force of the return spring at rest";
  parameter TranslationalStiffness c(min=0) = 2000 "Stiffness of the return spring";
  parameter TranslationalStiffness c_disc(min=1e-3) = 1.5e5 "Stiffness of the reaction disc, over which the rods meet";
  parameter TranslationalDamping d(min=0) = 500 "Damping";
  parameter Real C_air(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 1e-7 "Sonic conductance of the poppet to the air, fully open";
  parameter Real C_vacuum(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 1e-7 "Sonic conductance of the poppet between the chambers, fully open";
  parameter Length e_open(min=1e-9, displayUnit="mm") = 1e-3 "Way of the poppet from closed to fully open";
  parameter Length lap(min=0, displayUnit="mm") = 3e-5 "Way in which both are closed";
  parameter Pressure p_start(displayUnit="bar", min=0) = gas.p_ambient "Absolute pressure in both chambers at the start";
  parameter ThermalConductance G(min=0) = 0.5 "Conductance for heat between the gas of a chamber and its wall";
  Movrel.Translational.Rod rod_in "Rod of the pedal" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Translational.Rod rod_out "Rod of what is moved" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  GasPort vacuum "Vacuum" annotation (Placement(transformation(extent={{50,90},{70,110}})));
  GasPort air "Air" annotation (Placement(transformation(extent={{-70,90},{-50,110}})));
  Length s(start=0, stateSelect=StateSelect.prefer, displayUnit="mm") "Position of the diaphragm";
  Velocity v(start=0, stateSelect=StateSelect.prefer) "Its speed";
  Length e(displayUnit="mm", nominal=e_open) "How far the rod that comes in is ahead: the poppet opens to the air";
  Force f_in "Force of the pedal";
  Force f_out "Force that goes out";
  Ratio y_air "How far the poppet is open to the air";
  Ratio y_vacuum "How far it is open between the chambers";
  Pressure p_front(start=p_start, stateSelect=StateSelect.prefer, displayUnit="bar") "Absolute pressure on the side of the vacuum";
  Pressure p_rear(start=p_start, stateSelect=StateSelect.prefer, displayUnit="bar") "Absolute pressure on the side that takes air";
  Temperature T_front(start=gas.T_ambient, stateSelect=StateSelect.prefer) "Temperature on the side of the vacuum";
  Temperature T_rear(start=gas.T_ambient, stateSelect=StateSelect.prefer) "Temperature on the side that takes air";
  MassFlowRate m_air(displayUnit="g/s") "Flow from the air into the rear";
  MassFlowRate m_across(displayUnit="g/s") "Flow from the rear to the front";
protected
  parameter Volume V_dead = 0.1*A*stroke "Volume that is left on either side";
  parameter TranslationalStiffness c_stop = 1e3*(f_0 + c*stroke)/stroke "Stiffness of the stops";
  parameter Velocity v_stop = 0.2 "Speed at which a stop presses twice as hard";
  Volume V_front "Volume of the front";
  Volume V_rear "Volume of the rear";
  Power H_air "Enthalpy that comes with m_air";
  Power H_across "Enthalpy that goes with m_across";
  Power H_vacuum "Enthalpy that comes in from the vacuum port";
equation
  V_rear = A*s + V_dead;
  V_front = A*(stroke - s) + V_dead;
  vacuum.p = p_front;
  vacuum.h = gas.c_p*T_front;
  air.h = gas.c_p*T_rear;
  air.m = m_air;
  m_air = sonic_flow(air.p, p_rear, upstream(air.p, p_rear, inStream(air.h)/gas.c_p, T_rear), max(1e-6, y_air)*C_air, 0.3, gas.rho_0);
  m_across = sonic_flow(p_rear, p_front, upstream(p_rear, p_front, T_rear, T_front), max(1e-6, y_vacuum)*C_vacuum, 0.3, gas.rho_0);
  H_air = max(m_air, 0)*inStream(air.h) + min(m_air, 0)*gas.c_p*T_rear;
  H_across = gas.c_p*(max(m_across, 0)*T_rear + min(m_across, 0)*T_front);
  H_vacuum = max(vacuum.m, 0)*inStream(vacuum.h) + min(vacuum.m, 0)*gas.c_p*T_front;
  V_rear*der(p_rear) = (gas.kappa - 1)*(H_air - H_across + G*(gas.T_ambient - T_rear)) - gas.kappa*p_rear*A*v;
  V_front*der(p_front) = (gas.kappa - 1)*(H_across + H_vacuum + G*(gas.T_ambient - T_front)) + gas.kappa*p_front*A*v;
  p_rear*V_rear/(gas.R_s*T_rear)*gas.c_v*der(T_rear) = H_air - H_across + G*(gas.T_ambient - T_rear) - p_rear*A*v - gas.c_v*T_rear*(m_air - m_across);
  p_front*V_front/(gas.R_s*T_front)*gas.c_v*der(T_front) = H_across + H_vacuum + G*(gas.T_ambient - T_front) + p_front*A*v - gas.c_v*T_front*(m_across + vacuum.m);
  s = rod_out.s;
  v = der(s);
  e = rod_in.s - s;
  y_air = min(max((e - lap)/e_open, 0), 1);
  y_vacuum = min(max((lap - e)/e_open, 0), 1);
  f_in = f_out/boost + c_disc*e + d*der(e) + (if e > 2*e_open then 100*c_disc*(e - 2*e_open) else 0);
  rod_in.f = f_in;
  rod_out.f = -f_out;
  m*der(v) = f_in + A*(p_rear - p_front) - f_out - f_0 - c*s - d*v - c_stop*(min(s, 0)*max(0, 1 - v/v_stop) + max(s - stroke, 0)*max(0, 1 + v/v_stop));
  annotation (
    Icon(graphics={
      Rectangle(extent={{-70,70},{70,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, radius=20),
      Line(points={{0,70},{0,10}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,-10},{0,-70}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{-10,0}}, color={40,44,60}, thickness=1),
      Line(points={{10,0},{100,0}}, color={40,44,60}, thickness=1),
      Rectangle(extent={{-10,14},{10,-14}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,100},{60,70}}, color={56,104,136}, thickness=0.5),
      Line(points={{-60,100},{-60,70}}, color={56,104,136}, thickness=0.5),
      Line(points={{10,-40},{26,-30},{34,-50},{46,-30},{54,-50},{70,-40}}, color={40,44,60}),
      Text(extent={{-150,-80},{150,-120}}, textString="%name")}),
    Documentation(info="<html><p>The poppet opens by <i>e</i>, how far the pedal's rod is ahead of the diaphragm; <i>f_in = f_out/boost + c_disc e</i>, <i>m dv/dt = f_in + A (p_rear - p_front) - f_out - f_0 - c s</i>. When the air has filled the chamber the pedal alone adds force.</p></html>"),
    __Movrel(synonyms={"brake booster", "vacuum servo", "power brake"}, source="Bosch, Automotive Handbook, on brake boosters; symbol ISO 1219-1"));
end ServoAssistedActuator;
