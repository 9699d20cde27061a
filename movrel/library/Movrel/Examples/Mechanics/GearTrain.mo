within Movrel.Examples.Mechanics;
model GearTrain "A torque drives an inertia through two gears and a belt"
  Movrel.Signals.Constant step(value=2)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Rotational.DrivenTorque motor
    annotation (Placement(transformation(extent={{68,-20},{108,20}})));
  Movrel.Rotational.Inertia rotor(J=0.01)
    annotation (Placement(transformation(extent={{156,-20},{196,20}})));
  Movrel.Rotational.Gear gear(i=4)
    annotation (Placement(transformation(extent={{244,-20},{284,20}})));
  Movrel.Rotational.PowerMeter power
    annotation (Placement(transformation(extent={{332,-20},{372,20}})));
  Movrel.Rotational.GearWithLosses worm(i=5, eta=0.8)
    annotation (Placement(transformation(extent={{420,-20},{460,20}})));
  Movrel.Rotational.Inertia load(J=3)
    annotation (Placement(transformation(extent={{508,-20},{548,20}})));
  Movrel.Rotational.Tachometer speed
    annotation (Placement(transformation(extent={{604,-84},{644,-44}})));
  Movrel.Rotational.Dynamometer torque
    annotation (Placement(transformation(extent={{604,4},{644,44}})));
  Movrel.Rotational.Bearing drag(d=2)
    annotation (Placement(transformation(extent={{700,4},{740,44}})));
equation
  connect(step.y, motor.tau);
  connect(motor.b, rotor.a);
  connect(rotor.b, gear.a);
  connect(gear.b, power.a);
  connect(power.b, worm.a);
  connect(worm.b, load.a);
  connect(load.b, torque.a);
  connect(torque.b, drag.a);
  connect(load.b, speed.a);
  annotation (
    experiment(StopTime=6, Interval=0.01, Tolerance=1e-08),
    __Movrel(recorder={{"rotor.w", "load.w"}, {"power.P", "torque.tau"}}));
end GearTrain;
