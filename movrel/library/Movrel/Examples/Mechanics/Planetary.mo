within Movrel.Examples.Mechanics;
model Planetary "A planetary set with a braked ring, then released"
  Movrel.Signals.Constant drive(value=5)
    annotation (Placement(transformation(extent={{-100,-20},{-60,20}})));
  Movrel.Rotational.DrivenTorque motor
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Rotational.Inertia sun(J=0.02)
    annotation (Placement(transformation(extent={{68,-20},{108,20}})));
  Movrel.Rotational.PlanetarySet set(z=3)
    annotation (Placement(transformation(extent={{164,-20},{204,20}})));
  Movrel.Rotational.Inertia carrier(J=0.8)
    annotation (Placement(transformation(extent={{268,-20},{308,20}})));
  Movrel.Rotational.Inertia ring(J=0.1)
    annotation (Placement(transformation(extent={{244,76},{284,116}})));
  Movrel.Signals.Step grip(before=1, after=0, delay=2)
    annotation (Placement(transformation(extent={{244,172},{284,212}})));
  Movrel.Rotational.Brake brake(tau_max=60)
    annotation (Placement(transformation(extent={{340,76},{380,116}})));
equation
  connect(drive.y, motor.tau);
  connect(motor.b, sun.a);
  connect(sun.b, set.sun);
  connect(set.carrier, carrier.a);
  connect(set.ring, ring.a);
  connect(ring.b, brake.a);
  connect(grip.y, brake.u);
  annotation (
    experiment(StopTime=4, Interval=0.01, Tolerance=1e-08),
    __Movrel(recorder={{"sun.w", "carrier.w", "ring.w"}}));
end Planetary;
