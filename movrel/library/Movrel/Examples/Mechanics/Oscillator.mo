within Movrel.Examples.Mechanics;
model Oscillator "Mass on a spring and a damper, let go from 0.1 m"
  Movrel.Translational.HeldRod wall
    annotation (Placement(transformation(extent={{-20,-20},{20,20}}, rotation=-90)));
  Movrel.Translational.Spring spring(c=400)
    annotation (Placement(transformation(extent={{76,20},{116,60}})));
  Movrel.Translational.Damper damper(d=8)
    annotation (Placement(transformation(extent={{76,-60},{116,-20}})));
  Movrel.Translational.Mass body(m=4, s_start=0.1)
    annotation (Placement(transformation(extent={{188,-20},{228,20}})));
  Movrel.Translational.ForceGauge force
    annotation (Placement(transformation(extent={{284,-20},{324,20}})));
  Movrel.Translational.SpringDamper stiff(c=100, d=0)
    annotation (Placement(transformation(extent={{380,-20},{420,20}})));
  Movrel.Translational.HeldRod end_
    annotation (Placement(transformation(extent={{476,-20},{516,20}}, rotation=90)));
  Movrel.Translational.DisplacementGauge position
    annotation (Placement(transformation(extent={{284,76},{324,116}})));
  Movrel.Translational.Speedometer speed
    annotation (Placement(transformation(extent={{284,-116},{324,-76}})));
  Movrel.Translational.Accelerometer acc
    annotation (Placement(transformation(extent={{396,-116},{436,-76}})));
equation
  connect(wall.a, spring.a);
  connect(wall.a, damper.a);
  connect(spring.b, body.a);
  connect(damper.b, body.a);
  connect(body.b, force.a);
  connect(force.b, stiff.a);
  connect(stiff.b, end_.a);
  connect(body.b, position.a);
  connect(body.b, speed.a);
  connect(body.b, acc.a);
  annotation (
    experiment(StopTime=4, Interval=0.005, Tolerance=1e-09),
    __Movrel(recorder={{"position.s"}, {"force.f", "damper.f"}}));
end Oscillator;
