within VarrowQuay;
model QuayTug "Quay tug: engine, converter and shifting gearbox through a drive cycle with a ramp"
  Movrel.Vehicles.DriveCycle cycle(table=[0, 0; 4, 0; 16, 6; 26, 6; 38, 10; 55, 10; 66, 3; 76, 3; 84, 0; 95, 0], ahead=1)
    annotation (Placement(transformation(extent={{-365.6,-45.6},{-325.6,-5.6}})));
  Movrel.Vehicles.Driver driver(K=0.5)
    annotation (Placement(transformation(extent={{-282.4,-45.6},{-242.4,-5.6}})));
  Movrel.Vehicles.Engine engine
    annotation (Placement(transformation(extent={{-199.2,-20},{-159.2,20}})));
  Movrel.Vehicles.TorqueConverter converter(c_stall=0.006)
    annotation (Placement(transformation(extent={{-122.4,-20},{-82.4,20}})));
  Movrel.Rotational.Inertia turbine(J=0.08)
    annotation (Placement(transformation(extent={{-52,-20},{-12,20}})));
  TugGearbox gearbox "Swap it for one speed to compare"
    annotation (Placement(transformation(extent={{20.8,-24},{68.8,24}})));
  Movrel.Rotational.Gear final_drive(i=6.5) "Final drive"
    annotation (Placement(transformation(extent={{101.6,-20},{141.6,20}})));
  Movrel.Rotational.Inertia hub(J=8) "Driven wheels"
    annotation (Placement(transformation(extent={{172,-20},{212,20}})));
  Movrel.Rotational.Brake brake(tau_max=9000)
    annotation (Placement(transformation(extent={{172,-109.6},{212,-69.6}}, rotation=-90)));
  Movrel.Vehicles.Tyre tyre_rear(r=0.375)
    annotation (Placement(transformation(extent={{242.4,-20},{282.4,20}})));
  Movrel.Vehicles.Tyre tyre_front(r=0.375)
    annotation (Placement(transformation(extent={{242.4,-135.2},{282.4,-95.2}})));
  Movrel.Rotational.Inertia hub_front(J=4) "Front wheels"
    annotation (Placement(transformation(extent={{172,-186.4},{212,-146.4}})));
  Movrel.Vehicles.Vehicle tug(m=5200, l=2.4, l_f=1.1, h=0.8, c_w=0.7, A=3)
    annotation (Placement(transformation(extent={{317.6,61.6},{373.6,117.6}})));
  Movrel.Signals.PointTable ramp(table=[0, 0; 41, 0; 43, 0.06; 50, 0.06; 52, 0; 95, 0]) "Rise of the ramp"
    annotation (Placement(transformation(extent={{236,146.4},{276,186.4}})));
  Movrel.Signals.Constant wind(value=3)
    annotation (Placement(transformation(extent={{415.2,146.4},{455.2,186.4}}, rotation=180)));
equation
  connect(cycle.v_ahead, driver.v_set);
  connect(tug.v, driver.v);
  connect(driver.throttle, engine.throttle);
  connect(driver.brake, brake.u);
  connect(engine.b, converter.a);
  connect(converter.b, turbine.a);
  connect(turbine.b, gearbox.a);
  connect(gearbox.b, final_drive.a);
  connect(final_drive.b, hub.a);
  connect(hub.b, brake.a);
  connect(hub.b, tyre_rear.a);
  connect(tyre_rear.b, tug.rear);
  connect(tyre_front.b, tug.front);
  connect(hub_front.b, tyre_front.a);
  connect(tug.load_front, tyre_front.load);
  connect(tug.load_rear, tyre_rear.load);
  connect(ramp.y, tug.grade);
  connect(wind.y, tug.wind);
  annotation (
    experiment(StopTime=95, Interval=0.05, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-350,230},{350,218}}, textString="On the ramp the weight adds 5200·9.81·0.06 = 3.06 kN; at stall the converter takes 0.006·84² = 42 N.m from the idling engine", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>A tractor for trailers on the quay drives a cycle. Its controller shifts by the speed of the turbine; step into the gearbox to see its states at work. At 41 s a ramp of 6 % begins.</p><p>By hand: on the level at 6 m/s the air takes <i>1.2·0.7·3·(6+3)²/2 = 102 N</i> and rolling <i>0.012·5200·9.81 = 612 N</i>; on the ramp the weight adds <i>5200·9.81·0.06 = 3060 N</i>. Without a shift the engine turns by <i>6.5·i/0.375 m</i> of the way.</p></html>"),
    __Movrel(claims={"at(tug.v, 24 s) ≈ 6 m/s ± 3 %", "max(gearbox.gear) == 3", "at(tug.f_grade, 47 s) ≈ 3.06 kN ± 1 %", "final(tug.v) < 0.2 m/s", "at(converter.tau_a, 3 s) ≈ 0.006 N.m.s2*(84 rad/s)^2 ± 4 %"}, scenarios={Scenario(name="one speed", colour=1, changes={{"gearbox", "redeclare VarrowQuay.TugOneSpeed"}}), Scenario(name="no ramp", colour=2, changes={{"ramp.scale", "0"}})}, recorder={{"tug.v", "cycle.v"}, {"engine.w", "turbine.w"}, {"gearbox.gear", "driver.throttle", "driver.brake"}, {"engine.fuel_used"}}));
end QuayTug;
