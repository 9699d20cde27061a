within Movrel.Examples.Pneumatics;
model AirMotors "Two vane motors, by their chambers and by a map, lift and spin"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=7e5)
    annotation (Placement(transformation(extent={{-77.6,76},{-37.6,116}})));
  Movrel.Pneumatics.HeldPressure supply_2(p_0=7e5)
    annotation (Placement(transformation(extent={{-77.6,-116},{-37.6,-76}})));
  Movrel.Pneumatics.VaneMotor by_chambers
    annotation (Placement(transformation(extent={{37.6,76},{77.6,116}}, rotation=180)));
  Movrel.Rotational.Inertia drum(J=0.01)
    annotation (Placement(transformation(extent={{172,76},{212,116}})));
  Movrel.Rotational.Bearing load(d=0.02)
    annotation (Placement(transformation(extent={{268,76},{308,116}})));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{133.6,-20},{173.6,20}})));
  Movrel.Pneumatics.VaneMotorByMap by_map
    annotation (Placement(transformation(extent={{37.6,-116},{77.6,-76}}, rotation=180)));
  Movrel.Rotational.Inertia drum_2(J=0.01)
    annotation (Placement(transformation(extent={{172,-116},{212,-76}})));
  Movrel.Rotational.Bearing load_2(d=0.02)
    annotation (Placement(transformation(extent={{268,-116},{308,-76}})));
  Movrel.Pneumatics.Atmosphere outside_2
    annotation (Placement(transformation(extent={{133.6,-231.2},{173.6,-191.2}})));
equation
  connect(supply.port, by_chambers.a);
  connect(by_chambers.b, outside.port);
  connect(by_chambers.shaft, drum.a);
  connect(drum.b, load.a);
  connect(supply_2.port, by_map.a);
  connect(by_map.b, outside_2.port);
  connect(by_map.shaft, drum_2.a);
  connect(drum_2.b, load_2.a);
  annotation (
    experiment(StopTime=3, Interval=0.005),
    __Movrel(recorder={{"drum.w", "drum_2.w"}}));
end AirMotors;
