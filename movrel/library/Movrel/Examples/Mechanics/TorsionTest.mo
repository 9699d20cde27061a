within Movrel.Examples.Mechanics;
model TorsionTest "A shaft is twisted to and fro; a wheel on two springs follows against dry friction"
  Movrel.Signals.Sine motion(amplitude=0.2, f=1)
    annotation (Placement(transformation(extent={{-160,-20},{-120,20}})));
  Movrel.Rotational.DrivenAngle drive
    annotation (Placement(transformation(extent={{-80,-20},{-40,20}})));
  Movrel.Rotational.Spring shaft(c=400)
    annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Rotational.Inertia wheel(J=2)
    annotation (Placement(transformation(extent={{80,-20},{120,20}})));
  Movrel.Rotational.SpringDamper mount(c=200, d=3)
    annotation (Placement(transformation(extent={{160,-20},{200,20}})));
  Movrel.Rotational.HeldShaft frame
    annotation (Placement(transformation(extent={{240,-20},{280,20}})));
  Movrel.Rotational.DryFriction seal(tau_c=2)
    annotation (Placement(transformation(extent={{160,60},{200,100}})));
  Movrel.Rotational.Accelerometer sensor
    annotation (Placement(transformation(extent={{160,-100},{200,-60}})));
equation
  connect(motion.y, drive.phi);
  connect(drive.b, shaft.a);
  connect(shaft.b, wheel.a);
  connect(wheel.b, mount.a);
  connect(mount.b, frame.a);
  connect(wheel.b, seal.a);
  connect(wheel.b, sensor.a);
  annotation (
    experiment(StopTime=6, Interval=0.005, Tolerance=1e-07),
    __Movrel(recorder={{"drive.phi", "wheel.phi"}, {"seal.tau"}, {"sensor.alpha"}}));
end TorsionTest;
