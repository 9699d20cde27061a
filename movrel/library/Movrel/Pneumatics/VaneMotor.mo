within Movrel.Pneumatics;
model VaneMotor "Vane motor by its chambers, which turn past an inlet and an outlet"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Integer n(min=3) = 6 "Number of chambers" annotation (Evaluate=true);
  parameter Volume V_max(displayUnit="cm3", min=1e-12) = 20e-6 "Largest volume of a chamber";
  parameter Volume V_min(displayUnit="cm3", min=1e-12) = 1e-6 "Smallest volume of a chamber";
  parameter Angle phi_in(displayUnit="deg") = 1.7 "Angle at which the inlet closes; it opens at the smallest volume";
  parameter Angle phi_out(displayUnit="deg") = 2.8 "Angle at which the outlet opens; it closes at the smallest volume";
  parameter Real C_in(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance of the inlet, fully open";
  parameter Real C_out(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 5e-8 "Sonic conductance of the outlet, fully open";
  parameter Real C_leak(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 5e-10 "Sonic conductance of the leak from a chamber to the outlet";
  parameter ThermalConductance G(min=0) = 0.05 "Conductance for heat between the gas of a chamber and its wall";
  parameter RotationalDamping d(min=0) = 1e-3 "Friction of the vanes";
  GasPort a "Inlet" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  GasPort b "Outlet" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  AngularVelocity w(displayUnit="rpm") "Speed";
  Torque tau "Torque that it gives";
  MassFlowRate m(displayUnit="g/s") "Flow in through the inlet";
  Pressure p[n](each start=gas.p_ambient, each stateSelect=StateSelect.prefer, each displayUnit="bar") "Absolute pressure in each chamber";
  Temperature T[n](each start=gas.T_ambient, each stateSelect=StateSelect.prefer) "Temperature in each chamber";
  Volume V[n](each displayUnit="cm3") "Volume of each chamber";
protected
  Angle theta[n] "How far each chamber is past the smallest volume";
  Real slope[n](each unit="m3/rad") "Growth of each volume with the angle";
  Ratio open_in[n] "How far the inlet is open to each chamber";
  Ratio open_out[n] "How far the outlet is open to each chamber";
  MassFlowRate m_in[n](each nominal=C_in*1e5*gas.rho_0) "Flow into each chamber from the inlet";
  MassFlowRate m_out[n](each nominal=C_out*1e5*gas.rho_0) "Flow out of each chamber to the outlet";
  Power H_in[n] "Enthalpy that comes into each chamber from the inlet";
  Power H_out[n] "Enthalpy that leaves each chamber for the outlet";
  parameter Angle half_in = phi_in/2 "Half the width of the inlet";
  parameter Angle half_out = pi - phi_out/2 "Half the width of the outlet";
  parameter MassFlowRate m_tiny = 1e-6*C_in*1e5*gas.rho_0 "Flow below which streams mix evenly";
equation
  assert(phi_in < phi_out, "the inlet must close before the outlet opens");
  w = der(shaft.phi);
  for i in 1:n loop
    theta[i] = shaft.phi + 2*pi*(i - 1)/n;
    V[i] = V_min + (V_max - V_min)*(1 - cos(theta[i]))/2;
    slope[i] = (V_max - V_min)*sin(theta[i])/2;
    open_in[i] = max(0, (cos(theta[i] - half_in) - cos(half_in))/(1 - cos(half_in)));
    open_out[i] = max(0, (cos(theta[i] - pi - phi_out/2) - cos(half_out))/(1 - cos(half_out)));
    m_in[i] = sonic_flow(a.p, p[i], upstream(a.p, p[i], inStream(a.h)/gas.c_p, T[i]), open_in[i]*C_in, 0.3, gas.rho_0);
    m_out[i] = sonic_flow(p[i], b.p, upstream(p[i], b.p, T[i], inStream(b.h)/gas.c_p), open_out[i]*C_out + C_leak, 0.3, gas.rho_0);
    H_in[i] = m_in[i]*(if noEvent(m_in[i] > 0) then inStream(a.h) else gas.c_p*T[i]);
    H_out[i] = m_out[i]*(if noEvent(m_out[i] > 0) then gas.c_p*T[i] else inStream(b.h));
    V[i]*der(p[i]) = (gas.kappa - 1)*(H_in[i] - H_out[i] + G*(gas.T_ambient - T[i])) - gas.kappa*p[i]*slope[i]*w;
    p[i]*V[i]/(gas.R_s*T[i])*gas.c_v*der(T[i]) = H_in[i] - H_out[i] + G*(gas.T_ambient - T[i]) - p[i]*slope[i]*w - gas.c_v*T[i]*(m_in[i] - m_out[i]);
  end for;
  tau = sum((p[i] - gas.p_ambient)*slope[i] for i in 1:n) - d*w;
  shaft.tau = -tau;
  m = sum(m_in);
  a.m = m;
  b.m = -sum(m_out);
  a.h = sum((max(-m_in[i], 0) + m_tiny)*T[i] for i in 1:n)*gas.c_p/(sum(max(-m_in[i], 0) for i in 1:n) + n*m_tiny);
  b.h = sum((max(m_out[i], 0) + m_tiny)*T[i] for i in 1:n)*gas.c_p/(sum(max(m_out[i], 0) for i in 1:n) + n*m_tiny);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{-16,-60},{16,-60},{0,-32},{-16,-60}}, lineColor={40,44,60}),
      Line(points={{0,60},{0,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{-100,6},{-60,6}}, color={40,44,60}),
      Line(points={{-100,-6},{-60,-6}}, color={40,44,60}),
      Ellipse(extent={{-24,24},{24,-24}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,24},{0,60}}, color={40,44,60}),
      Line(points={{21,-12},{50,-30}}, color={40,44,60}),
      Line(points={{-21,-12},{-50,-30}}, color={40,44,60}),
      Text(extent={{66,-64},{280,-100}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>Each chamber: <i>V = V_min + (V_max - V_min)(1 - cos θ)/2</i>, balances of mass and energy, an inlet open up to <i>phi_in</i> and an outlet from <i>phi_out</i> on; <i>τ = Σ (p - p_ambient) dV/dθ - d w</i>. Between inlet and outlet the gas expands.</p></html>"),
    __Movrel(synonyms={"air motor", "pneumatic motor", "rotary", "expansion"}, source="Beater, Pneumatic Drives, 2007; symbol ISO 1219-1"));
end VaneMotor;
