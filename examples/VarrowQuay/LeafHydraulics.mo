within VarrowQuay;
model LeafHydraulics "Bridge leaf moved by a cylinder: power pack, servo valve, position control"
  inner Movrel.Hydraulics.Oil oil
    annotation (Placement(transformation(extent={{-352.8,120.8},{-312.8,160.8}})));
  Movrel.Signals.Constant speed(value=154.5) "Motor at 1475 rpm"
    annotation (Placement(transformation(extent={{-410.4,-141.6},{-370.4,-101.6}})));
  Movrel.Rotational.DrivenSpeed motor
    annotation (Placement(transformation(extent={{-346.4,-141.6},{-306.4,-101.6}})));
  Movrel.Rotational.PowerMeter power
    annotation (Placement(transformation(extent={{-285.6,-141.6},{-245.6,-101.6}})));
  Movrel.Hydraulics.Pump pump(D=28e-6)
    annotation (Placement(transformation(extent={{-224.8,-141.6},{-184.8,-101.6}})));
  Movrel.Hydraulics.Tank tank(V_start=0.16)
    annotation (Placement(transformation(extent={{-224.8,-218.4},{-184.8,-178.4}})));
  Movrel.Hydraulics.Chamber outlet(V=1e-3) "Line behind the pump"
    annotation (Placement(transformation(extent={{-160.8,-0.8},{-120.8,39.2}}, rotation=180)));
  Movrel.Hydraulics.ReliefValve relief(p_set=160e5, q_n=80/60000)
    annotation (Placement(transformation(extent={{-160.8,-84},{-120.8,-44}}, rotation=-90)));
  Movrel.Hydraulics.Tank tank_2
    annotation (Placement(transformation(extent={{-160.8,-160.8},{-120.8,-120.8}})));
  Movrel.Hydraulics.CheckValve check
    annotation (Placement(transformation(extent={{-103.2,-26.4},{-63.2,13.6}})));
  Movrel.Hydraulics.Accumulator accumulator(V_gas=4e-3, p_precharge=90e5)
    annotation (Placement(transformation(extent={{-64.8,44},{-24.8,84}})));
  Movrel.Hydraulics.ProportionalValve servo(lap=0.03, dp_n=35e5)
    annotation (Placement(transformation(extent={{56.8,37.6},{96.8,77.6}})));
  Movrel.Hydraulics.Tank tank_3
    annotation (Placement(transformation(extent={{88.8,-45.6},{128.8,-5.6}})));
  Movrel.Hydraulics.DoubleActingCylinder cylinder(stroke=1.2, s_start=0.1, d_piston=0.08, d_rod=0.045, m=60, f_c=400, V_dead=2e-4, leak=1e-13)
    annotation (Placement(transformation(extent={{44.8,121.6},{108.8,185.6}})));
  Movrel.Translational.SpringDamper linkage(c=4e7, d=1e5) "Rod, eye and bracket give"
    annotation (Placement(transformation(extent={{152.8,133.6},{192.8,173.6}})));
  Movrel.Translational.Mass leaf(m=12000, s_start=0.1) "Leaf, as seen from the rod"
    annotation (Placement(transformation(extent={{223.2,133.6},{263.2,173.6}})));
  Movrel.Translational.DrivenForce load
    annotation (Placement(transformation(extent={{293.6,133.6},{333.6,173.6}}, rotation=180)));
  Movrel.Signals.PointTable wind(table=[0, -50e3; 25, -50e3; 25.02, -58e3; 40, -58e3]) "Weight, and a gust at 25 s"
    annotation (Placement(transformation(extent={{364,133.6},{404,173.6}}, rotation=180)));
  Movrel.Translational.DisplacementGauge position
    annotation (Placement(transformation(extent={{223.2,37.6},{263.2,77.6}})));
  Movrel.Signals.SetPointProfile set_point(y_start=0.1, y_end=0.6, delay=2, v_max=0.06, a_max=0.05)
    annotation (Placement(transformation(extent={{-288.8,37.6},{-248.8,77.6}})));
  Movrel.Signals.Sum error(k_2=-1)
    annotation (Placement(transformation(extent={{-224.8,37.6},{-184.8,77.6}})));
  Movrel.Signals.Gain control(k=25)
    annotation (Placement(transformation(extent={{-160.8,37.6},{-120.8,77.6}})));
equation
  connect(speed.y, motor.w);
  connect(motor.b, power.a);
  connect(power.b, pump.shaft);
  connect(tank.port, pump.a);
  connect(pump.b, relief.a);
  connect(relief.b, tank_2.port);
  connect(pump.b, outlet.port);
  connect(pump.b, check.a);
  connect(check.b, accumulator.port);
  connect(check.b, servo.P);
  connect(servo.T, tank_3.port);
  connect(servo.A, cylinder.a);
  connect(servo.B, cylinder.b);
  connect(cylinder.rod, linkage.a);
  connect(linkage.b, leaf.a);
  connect(leaf.b, load.b);
  connect(wind.y, load.f);
  connect(leaf.a, position.a);
  connect(set_point.y, error.u_1);
  connect(position.s, error.u_2);
  connect(error.y, control.u);
  connect(control.y, servo.u);
  annotation (
    experiment(StopTime=30, Interval=0.005, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-330,250},{240,238}}, textString="Before the gust 50 kN = A_a p_a - A_b p_b; after it the leaf rings with sqrt(c/m), c: oil of both chambers in parallel, in series with the linkage", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>A power pack keeps an accumulator filled; a servo valve moves the cylinder, which lifts the leaf through a linkage that gives a little. The controller knows the position of the leaf only.</p>
<p>By hand: at rest the pressures carry the weight, <i>A_a p_a - A_b p_b = 50 kN</i> with <i>A_a = 50.3 cm²</i> and <i>A_b = 34.4 cm²</i>. The closed valve leaves two columns of oil, <i>c_a = K A_a²/V_a</i> and <i>c_b = K A_b²/V_b</i>, in series with the linkage.</p></html>"),
    __Movrel(claims={"mean(cylinder.f_pressure, from=20 s, to=24.9 s) ≈ 50 kN ± 2 %", "period(leaf.v, from=25.05 s, to=26 s) ≈ 2*pi*sqrt(leaf.m*(1/linkage.c + 1/(oil.K_40*((pi*cylinder.d_piston^2/4)^2/(pi*cylinder.d_piston^2/4*0.6 m + cylinder.V_dead) + (pi*(cylinder.d_piston^2 - cylinder.d_rod^2)/4)^2/(pi*(cylinder.d_piston^2 - cylinder.d_rod^2)/4*0.6 m + cylinder.V_dead))))) ± 3 %", "max(accumulator.p) < 165 bar", "final(tank.V) + final(tank_2.V) + final(tank_3.V) + final(outlet.V_free) + final(accumulator.V_free) + final(cylinder.V_a) + final(cylinder.V_b) ≈ initial(tank.V) + initial(tank_2.V) + initial(tank_3.V) + initial(outlet.V_free) + initial(accumulator.V_free) + initial(cylinder.V_a) + initial(cylinder.V_b) ± 1 cm3", "integral(power.P, from=20 s, to=24.9 s) ≈ integral(oil.Q, from=20 s, to=24.9 s) ± 1 %"}, scenarios={Scenario(name="half the gain", colour=1, changes={{"control.k", "12"}}), Scenario(name="airy oil", colour=2, changes={{"oil.air", "0.03"}})}, recorder={{"leaf.s", "set_point.y"}, {"cylinder.p_a", "cylinder.p_b", "accumulator.p"}, {"leaf.v"}}));
end LeafHydraulics;
