within VarrowQuay;
model QuayTugBrake "Brake of the quay tug: pedal, servo, tandem cylinder, calipers, axle loads"
  inner Movrel.Hydraulics.Oil oil(grade=Movrel.Hydraulics.OilGrade.brake_fluid, air=5e-4)
    annotation (Placement(transformation(extent={{-352.8,120.8},{-312.8,160.8}})));
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-288.8,120.8},{-248.8,160.8}})));
  Movrel.Signals.PointTable foot(table=[0, 0; 1, 0; 1.3, -150; 6, -150]) "Foot in N"
    annotation (Placement(transformation(extent={{-365.6,-20},{-325.6,20}})));
  Movrel.Translational.DrivenForce driver
    annotation (Placement(transformation(extent={{-295.2,-20},{-255.2,20}})));
  Movrel.Translational.Lever pedal(l_a=0.28, l_b=0.07)
    annotation (Placement(transformation(extent={{-224.8,-20},{-184.8,20}})));
  Movrel.Translational.Mass rod(m=0.3) "Pedal and rod"
    annotation (Placement(transformation(extent={{-295.2,-96.8},{-255.2,-56.8}})));
  Movrel.Pneumatics.ServoAssistedActuator servo(p_start=3e4, boost=4)
    annotation (Placement(transformation(extent={{-141.6,-20},{-101.6,20}}, rotation=180)));
  Movrel.Pneumatics.Restriction hose(C=1e-7)
    annotation (Placement(transformation(extent={{-141.6,-96.8},{-101.6,-56.8}}, rotation=-90)));
  Movrel.Pneumatics.Chamber reservoir(V_0=5e-3, p_start=3e4)
    annotation (Placement(transformation(extent={{-96.8,-160.8},{-56.8,-120.8}})));
  Movrel.Pneumatics.VacuumSource pump(p_low=2.5e4)
    annotation (Placement(transformation(extent={{-26.4,-212},{13.6,-172}}, rotation=180)));
  Movrel.Pneumatics.Atmosphere air
    annotation (Placement(transformation(extent={{-192.8,-122.4},{-152.8,-82.4}})));
  Movrel.Hydraulics.MasterCylinder master
    annotation (Placement(transformation(extent={{-60,-21.6},{-4,34.4}})));
  Movrel.Hydraulics.Line line_front(l=1.5, d=0.004)
    annotation (Placement(transformation(extent={{37.6,-77.6},{77.6,-37.6}})));
  Movrel.Hydraulics.Line line_rear(l=4, d=0.004)
    annotation (Placement(transformation(extent={{37.6,-148},{77.6,-108}})));
  Movrel.Hydraulics.Caliper front(d_piston=0.06, pistons=2, r=0.14, c=2.5e8)
    annotation (Placement(transformation(extent={{120.8,-32.8},{160.8,7.2}})));
  Movrel.Hydraulics.Caliper rear(d_piston=0.045, pistons=2, r=0.14, c=2e8)
    annotation (Placement(transformation(extent={{120.8,-160.8},{160.8,-120.8}})));
  Movrel.Rotational.Inertia hub_front(J=4, w_start=22.22) "Both wheels"
    annotation (Placement(transformation(extent={{191.2,-32.8},{231.2,7.2}})));
  Movrel.Rotational.Inertia hub_rear(J=4, w_start=22.22) "Both wheels"
    annotation (Placement(transformation(extent={{191.2,-160.8},{231.2,-120.8}})));
  Movrel.Vehicles.Tyre tyre_front(r=0.375)
    annotation (Placement(transformation(extent={{261.6,-32.8},{301.6,7.2}})));
  Movrel.Vehicles.Tyre tyre_rear(r=0.375)
    annotation (Placement(transformation(extent={{261.6,-160.8},{301.6,-120.8}})));
  Movrel.Vehicles.Vehicle tug(m=3200, l=2.4, l_f=1.1, h=0.8, c_w=0.7, A=3, v_start=8.333)
    annotation (Placement(transformation(extent={{330.4,29.6},{386.4,85.6}})));
  Movrel.Signals.Constant level(value=0)
    annotation (Placement(transformation(extent={{274.4,120.8},{314.4,160.8}})));
  Movrel.Signals.Constant calm(value=0)
    annotation (Placement(transformation(extent={{402.4,120.8},{442.4,160.8}}, rotation=180)));
equation
  connect(foot.y, driver.f);
  connect(driver.b, pedal.a);
  connect(pedal.a, rod.a);
  connect(pedal.b, servo.rod_in);
  connect(servo.rod_out, master.rod);
  connect(servo.vacuum, hose.a);
  connect(hose.b, reservoir.a);
  connect(reservoir.b, pump.port);
  connect(air.port, servo.air);
  connect(master.front, line_front.a);
  connect(master.rear, line_rear.a);
  connect(line_front.b, front.port);
  connect(line_rear.b, rear.port);
  connect(front.disc, hub_front.a);
  connect(rear.disc, hub_rear.a);
  connect(hub_front.b, tyre_front.a);
  connect(hub_rear.b, tyre_rear.a);
  connect(tyre_front.b, tug.front);
  connect(tyre_rear.b, tug.rear);
  connect(tug.load_front, tyre_front.load);
  connect(tug.load_rear, tyre_rear.load);
  connect(level.y, tug.grade);
  connect(calm.y, tug.wind);
  annotation (
    experiment(StopTime=5, Interval=0.005, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-350,200},{350,188}}, textString="150 N at the pedal, times 0.28/0.07, times 4: 2400 N less the springs over 3.87 cm² is about 58 bar", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The tug drives with 30 km/h; from 1 s on a foot presses the pedal with 150 N. The lever gives <i>150·0.28/0.07 = 600 N</i>, the servo four times that, until its vacuum is used up. The tandem cylinder presses both circuits; braking moves load to the front axle.</p><p>By hand: <i>2400 N</i> less the springs over <i>3.87 cm²</i> is about 58 bar. While it brakes with a the front axle carries <i>m (g (l - l_f) + a h)/l</i>. The energy of the tug is in the discs and the tyres.</p></html>"),
    __Movrel(claims={"at(master.p_1, 2.2 s) ≈ 58 bar ± 8 %", "final(tug.v) < 0.2 km/h", "max(tug.load_front) ≈ 3200 kg*(9.80665 m/s2*1.3 m - min(tug.acc)*0.8 m)/2.4 m ± 1 %", "initial(tug.v)^2*3200 kg/2 + 4 kg.m2*(22.22 rad/s)^2 ≈ integral(front.loss) + integral(rear.loss) + integral(tyre_front.loss) + integral(tyre_rear.loss) + 0.1 kJ ± 3 %"}, scenarios={Scenario(name="servo without vacuum", colour=1, changes={{"servo.p_start", "101325"}, {"reservoir.p_start", "101325"}, {"pump.q_0", "0"}}), Scenario(name="wet quay", colour=2, changes={{"tyre_front.mu", "0.35"}, {"tyre_rear.mu", "0.35"}})}, recorder={{"tug.v"}, {"master.p_1", "master.p_2"}, {"front.tau", "rear.tau"}, {"servo.s"}}));
end QuayTugBrake;
