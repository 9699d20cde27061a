within VarrowQuay;
model LeafPlant "Bridge leaf with all that moves it: motor, power pack, servo valve, cylinder, controller, oil cooler"
  inner Movrel.Hydraulics.Oil oil(T_start=303.15, warms=true, V=0.12)
    annotation (Placement(transformation(extent={{-442.4,146.4},{-402.4,186.4}})));
  Movrel.Electrical.DrivenVoltage mains
    annotation (Placement(transformation(extent={{-442.4,-141.6},{-402.4,-101.6}}, rotation=-90)));
  Movrel.Signals.Ramp soft_start(height=400, duration=0.5)
    annotation (Placement(transformation(extent={{-519.2,-141.6},{-479.2,-101.6}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-442.4,-224.8},{-402.4,-184.8}})));
  Movrel.Electrical.PermanentMagnetMotor motor(V_n=400, R_a=0.6, k_M=2.3, L_a=2e-3, J=0.04)
    annotation (Placement(transformation(extent={{-365.6,-141.6},{-325.6,-101.6}})));
  Movrel.Rotational.PowerMeter power
    annotation (Placement(transformation(extent={{-295.2,-141.6},{-255.2,-101.6}})));
  Movrel.Rotational.Inertia coupling(J=0.02)
    annotation (Placement(transformation(extent={{-231.2,-141.6},{-191.2,-101.6}})));
  Movrel.Hydraulics.Pump pump(D=28e-6)
    annotation (Placement(transformation(extent={{-160.8,-141.6},{-120.8,-101.6}})));
  Movrel.Hydraulics.Tank tank(V_start=0.16)
    annotation (Placement(transformation(extent={{-160.8,-218.4},{-120.8,-178.4}})));
  Movrel.Hydraulics.Chamber outlet(V=1e-3)
    annotation (Placement(transformation(extent={{-160.8,-7.2},{-120.8,32.8}}, rotation=180)));
  Movrel.Hydraulics.ReliefValve relief(p_set=160e5, q_n=80/60000)
    annotation (Placement(transformation(extent={{-96.8,-84},{-56.8,-44}}, rotation=-90)));
  Movrel.Hydraulics.Tank tank_2
    annotation (Placement(transformation(extent={{-96.8,-167.2},{-56.8,-127.2}})));
  Movrel.Hydraulics.CheckValve check
    annotation (Placement(transformation(extent={{-77.6,-26.4},{-37.6,13.6}})));
  Movrel.Hydraulics.Line supply(l=6, d=0.02, n=8)
    annotation (Placement(transformation(extent={{-0.8,-26.4},{39.2,13.6}})));
  Movrel.Hydraulics.Accumulator accumulator(V_gas=4e-3, p_precharge=90e5)
    annotation (Placement(transformation(extent={{63.2,37.6},{103.2,77.6}})));
  Movrel.Hydraulics.ProportionalValve servo(lap=0.03, dp_n=35e5)
    annotation (Placement(transformation(extent={{133.6,18.4},{173.6,58.4}})));
  Movrel.Hydraulics.Tank tank_3
    annotation (Placement(transformation(extent={{165.6,-58.4},{205.6,-18.4}})));
  Movrel.Hydraulics.Line line_a(l=4, d=0.016, n=8)
    annotation (Placement(transformation(extent={{88.8,120.8},{128.8,160.8}}, rotation=90)));
  Movrel.Hydraulics.Line line_b(l=4, d=0.016, n=8)
    annotation (Placement(transformation(extent={{191.2,120.8},{231.2,160.8}}, rotation=90)));
  Movrel.Hydraulics.DoubleActingCylinder cylinder(stroke=1.2, s_start=0.1, d_piston=0.08, d_rod=0.045, m=60, f_c=400, V_dead=2e-4, leak=1e-13)
    annotation (Placement(transformation(extent={{128,217.6},{192,281.6}})));
  Movrel.Translational.SpringDamper linkage(c=4e7, d=1e5) "Rod, eye and bracket give"
    annotation (Placement(transformation(extent={{242.4,229.6},{282.4,269.6}})));
  Movrel.Rotational.RackPinion crank(r=0.9) "Arm on which the rod acts"
    annotation (Placement(transformation(extent={{312.8,229.6},{352.8,269.6}}, rotation=180)));
  Movrel.Rotational.Inertia leaf(J=9720, phi_start=0.1/0.9) "Bridge leaf with counterweight"
    annotation (Placement(transformation(extent={{389.6,229.6},{429.6,269.6}})));
  Movrel.Rotational.GravityTorque weight(m=1500, r=3.06)
    annotation (Placement(transformation(extent={{466.4,274.4},{506.4,314.4}})));
  Movrel.Rotational.Bearing trunnion(d=2000)
    annotation (Placement(transformation(extent={{466.4,184.8},{506.4,224.8}})));
  Movrel.Rotational.DrivenTorque gust
    annotation (Placement(transformation(extent={{466.4,338.4},{506.4,378.4}}, rotation=180)));
  Movrel.Signals.PointTable wind(table=[0, 0; 14, 0; 14.05, -8e3; 20, -8e3]) "Gust in N.m"
    annotation (Placement(transformation(extent={{543.2,338.4},{583.2,378.4}}, rotation=180)));
  Movrel.Rotational.Encoder angle
    annotation (Placement(transformation(extent={{389.6,133.6},{429.6,173.6}}, rotation=180)));
  Movrel.Signals.SetPointProfile set_point(y_start=0.1/0.9, y_end=0.7, delay=2, v_max=0.08, a_max=0.08)
    annotation (Placement(transformation(extent={{-77.6,82.4},{-37.6,122.4}})));
  Movrel.Signals.Sum error(k_2=-1)
    annotation (Placement(transformation(extent={{-7.2,82.4},{32.8,122.4}})));
  Movrel.Signals.Gain control(k=20)
    annotation (Placement(transformation(extent={{37.6,146.4},{77.6,186.4}})));
  Movrel.Thermal.HeatCapacity cooler(C=9e3, T_start=303.15) "Oil cooler"
    annotation (Placement(transformation(extent={{-295.2,146.4},{-255.2,186.4}})));
  Movrel.Thermal.Conduction into_cooler(G=300)
    annotation (Placement(transformation(extent={{-365.6,146.4},{-325.6,186.4}}, rotation=180)));
  Movrel.Thermal.ForcedConvection fan
    annotation (Placement(transformation(extent={{-224.8,146.4},{-184.8,186.4}})));
  Movrel.Thermal.HeldTemperature quay(T=288.15)
    annotation (Placement(transformation(extent={{-154.4,146.4},{-114.4,186.4}}, rotation=180)));
  Movrel.Thermal.Thermometer oil_temperature
    annotation (Placement(transformation(extent={{-378.4,56.8},{-338.4,96.8}})));
  Movrel.Signals.HysteresisSwitch thermostat(on=308.15, off=305.15)
    annotation (Placement(transformation(extent={{-308,56.8},{-268,96.8}})));
  Movrel.Signals.Switch blower
    annotation (Placement(transformation(extent={{-231.2,56.8},{-191.2,96.8}})));
  Movrel.Signals.Constant fast(value=400)
    annotation (Placement(transformation(extent={{-301.6,-13.6},{-261.6,26.4}})));
  Movrel.Signals.Constant slow(value=30)
    annotation (Placement(transformation(extent={{-301.6,-64.8},{-261.6,-24.8}})));
equation
  connect(mains.a, motor.a);
  connect(mains.b, ground.a);
  connect(motor.b, ground.a);
  connect(motor.shaft, power.a);
  connect(power.b, coupling.a);
  connect(coupling.b, pump.shaft);
  connect(tank.port, pump.a);
  connect(pump.b, outlet.port);
  connect(pump.b, relief.a);
  connect(relief.b, tank_2.port);
  connect(pump.b, check.a);
  connect(check.b, supply.a);
  connect(supply.b, accumulator.port);
  connect(supply.b, servo.P);
  connect(servo.T, tank_3.port);
  connect(servo.A, line_a.a);
  connect(servo.B, line_b.a);
  connect(line_a.b, cylinder.a);
  connect(line_b.b, cylinder.b);
  connect(cylinder.rod, linkage.a);
  connect(linkage.b, crank.b);
  connect(crank.a, leaf.a);
  connect(leaf.b, weight.a);
  connect(leaf.b, trunnion.a);
  connect(gust.b, leaf.b);
  connect(wind.y, gust.tau);
  connect(leaf.a, angle.a);
  connect(set_point.y, error.u_1);
  connect(angle.phi, error.u_2);
  connect(error.y, control.u);
  connect(control.y, servo.u);
  connect(oil_temperature.a, oil.heat);
  connect(oil.heat, into_cooler.a);
  connect(into_cooler.b, cooler.a);
  connect(cooler.a, fan.a);
  connect(fan.b, quay.b);
  connect(oil_temperature.T, thermostat.u);
  connect(thermostat.y, blower.condition);
  connect(fast.y, blower.u_1);
  connect(slow.y, blower.u_2);
  connect(blower.y, fan.G);
  connect(soft_start.y, mains.u);
  annotation (
    experiment(StopTime=20, Interval=0.01, Tolerance=1e-04),
    Diagram(graphics={
      Text(extent={{-500,330},{200,318}}, textString="At 0.7 rad the weight asks for 50 kN cos 0.7 = 38 kN at the rod; the pump for D Δp/(2π) = 71 N.m at 160 bar", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>An electric motor drives the power pack; lines lead to the servo valve and on to the cylinder, which turns the leaf. All that is lost warms the oil, which a cooler with a thermostat cools.</p><p>By hand: the weight asks for <i>1500·9.81·3.06 cos φ</i>, at the arm of 0.9 m <i>50 kN cos φ</i>; at 0.7 rad <i>38 kN</i>. At the relief valve <i>28 cm³·n</i> at 160 bar are <i>D Δp/(2π) = 71 N.m</i>.</p></html>"),
    __Movrel(claims={"mean(cylinder.f_pressure, from=12 s, to=13.9 s) ≈ 50 kN*cos(0.7 rad) ± 3 %", "at(leaf.phi, 13 s) ≈ 0.7 rad ± 1 %", "max(supply.p[1]) < 180 bar", "final(tank.V) + final(tank_2.V) + final(tank_3.V) + final(outlet.V_free) + final(accumulator.V_free) + final(cylinder.V_a) + final(cylinder.V_b) + final(supply.V_oil) + final(line_a.V_oil) + final(line_b.V_oil) ≈ initial(tank.V) + initial(tank_2.V) + initial(tank_3.V) + initial(outlet.V_free) + initial(accumulator.V_free) + initial(cylinder.V_a) + initial(cylinder.V_b) + initial(supply.V_oil) + initial(line_a.V_oil) + initial(line_b.V_oil) ± 2 cm3", "final(oil.T) > initial(oil.T)"}, scenarios={Scenario(name="long lines", colour=1, changes={{"line_a.l", "12"}, {"line_b.l", "12"}}), Scenario(name="warm day", colour=2, changes={{"quay.T", "308.15"}})}, recorder={{"leaf.phi", "set_point.y"}, {"cylinder.p_a", "cylinder.p_b", "accumulator.p"}, {"oil.T", "cooler.T"}, {"motor.i", "motor.w"}}));
end LeafPlant;
