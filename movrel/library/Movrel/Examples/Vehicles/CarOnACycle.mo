within Movrel.Examples.Vehicles;
model CarOnACycle "A driver takes a car through a short cycle, over converter and gearbox"
  Movrel.Vehicles.DriveCycle cycle
    annotation (Placement(transformation(extent={{-500,-20},{-460,20}})));
  Movrel.Vehicles.Driver driver(K=0.5)
    annotation (Placement(transformation(extent={{-404,-20},{-364,20}})));
  Movrel.Vehicles.Engine engine
    annotation (Placement(transformation(extent={{-308,-20},{-268,20}})));
  Movrel.Vehicles.TorqueConverter converter(c_stall=0.004)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Rotational.Inertia turbine(J=0.05)
    annotation (Placement(transformation(extent={{-125.6,-20},{-85.6,20}})));
  Movrel.Vehicles.Gearbox gearbox(ratios={3.5, 2.0, 1.3, 0.95})
    annotation (Placement(transformation(extent={{-39.2,-20},{0.8,20}})));
  Movrel.Vehicles.ShiftSchedule schedule
    annotation (Placement(transformation(extent={{-39.2,95.2},{0.8,135.2}})));
  Movrel.Rotational.Gear final_drive(i=3.8)
    annotation (Placement(transformation(extent={{47.2,-20},{87.2,20}})));
  Movrel.Rotational.Inertia hub(J=2)
    annotation (Placement(transformation(extent={{133.6,-20},{173.6,20}})));
  Movrel.Rotational.Brake brake(tau_max=4000)
    annotation (Placement(transformation(extent={{133.6,76},{173.6,116}})));
  Movrel.Vehicles.Tyre front
    annotation (Placement(transformation(extent={{229.6,-20},{269.6,20}})));
  Movrel.Rotational.Inertia hub_rear(J=2)
    annotation (Placement(transformation(extent={{229.6,-173.6},{269.6,-133.6}})));
  Movrel.Vehicles.Tyre rear
    annotation (Placement(transformation(extent={{316,-173.6},{356,-133.6}})));
  Movrel.Vehicles.Vehicle car(m=1300)
    annotation (Placement(transformation(extent={{402.4,114.4},{442.4,154.4}})));
  Movrel.Signals.Constant level(value=0)
    annotation (Placement(transformation(extent={{306.4,229.6},{346.4,269.6}})));
  Movrel.Signals.Constant calm(value=0)
    annotation (Placement(transformation(extent={{498.4,229.6},{538.4,269.6}}, rotation=180)));
equation
  connect(cycle.v_ahead, driver.v_set);
  connect(car.v, driver.v);
  connect(driver.throttle, engine.throttle);
  connect(driver.brake, brake.u);
  connect(engine.b, converter.a);
  connect(converter.b, turbine.a);
  connect(turbine.b, gearbox.a);
  connect(car.v, schedule.v);
  connect(schedule.gear, gearbox.gear);
  connect(gearbox.b, final_drive.a);
  connect(final_drive.b, hub.a);
  connect(hub.b, brake.a);
  connect(hub.b, front.a);
  connect(front.b, car.front);
  connect(hub_rear.b, rear.a);
  connect(rear.b, car.rear);
  connect(car.load_front, front.load);
  connect(car.load_rear, rear.load);
  connect(level.y, car.grade);
  connect(calm.y, car.wind);
  annotation (
    experiment(StopTime=50, Interval=0.05, Tolerance=1e-05),
    __Movrel(recorder={{"car.v", "cycle.v"}, {"engine.w", "turbine.w"}, {"schedule.gear"}}));
end CarOnACycle;
