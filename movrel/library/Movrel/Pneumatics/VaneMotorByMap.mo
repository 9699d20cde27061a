within Movrel.Pneumatics;
model VaneMotorByMap "Vane motor by its stall torque, free speed and consumption"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Pressure p_n(displayUnit="bar", min=1) = 7e5 "Absolute pressure at which the data hold";
  parameter Torque tau_stall(min=0) = 12 "Torque at standstill";
  parameter AngularVelocity w_free(min=1e-6, displayUnit="rpm") = 300 "Speed without load";
  parameter MassFlowRate m_free(min=0, displayUnit="g/s") = 0.02 "Consumption at that speed";
  parameter MassFlowRate m_stall(min=0, displayUnit="g/s") = 0.006 "Consumption at standstill";
  parameter Ratio b_c(min=0, max=0.99) = 0.2 "Critical pressure ratio";
  GasPort a "Inlet" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  GasPort b "Outlet" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  AngularVelocity w(displayUnit="rpm") "Speed";
  Torque tau "Torque that it gives";
  Power P "Power that it gives";
  MassFlowRate m(displayUnit="g/s") "Flow from a to b";
protected
  parameter MassFlowRate m_tiny = 1e-4*max(m_stall, 1e-9) "Flow below which the gas gives off no power";
equation
  assert(p_n > gas.p_ambient, "p_n is absolute and must be above the pressure of the surroundings");
  w = der(shaft.phi);
  tau = tau_stall*(a.p - b.p)/(p_n - gas.p_ambient)*(1 - w/w_free);
  shaft.tau = -tau;
  P = tau*w;
  m = sonic_flow(a.p, b.p, upstream(a.p, b.p, inStream(a.h)/gas.c_p, inStream(b.h)/gas.c_p), (m_stall + (m_free - m_stall)*min(abs(w)/w_free, 2))/(gas.rho_0*p_n), b_c, gas.rho_0);
  a.m = m;
  b.m = -m;
  b.h = inStream(a.h) - P*m/(m^2 + m_tiny^2);
  a.h = inStream(b.h) + P*m/(m^2 + m_tiny^2);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{-16,-60},{16,-60},{0,-32},{-16,-60}}, lineColor={40,44,60}),
      Line(points={{0,60},{0,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{-100,6},{-60,6}}, color={40,44,60}),
      Line(points={{-100,-6},{-60,-6}}, color={40,44,60}),
      Text(extent={{-44,26},{44,-22}}, textString="map"),
      Text(extent={{66,-64},{280,-100}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>τ = τ_stall (p_a - p_b)/(p_n - p_ambient) (1 - w/w_free)</i>; the consumption grows with the speed and the pressure; what the shaft takes cools the gas.</p></html>"),
    __Movrel(synonyms={"air motor", "pneumatic motor", "turbine"}, source="Beater, Pneumatic Drives, 2007; symbol ISO 1219-1"));
end VaneMotorByMap;
