within Movrel.Examples.Mechanics;
model Vehicle "A cart climbs the ramp of the quay, driven through a differential"
  Movrel.Signals.Constant pull(value=150)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Rotational.DrivenTorque motor
    annotation (Placement(transformation(extent={{-124,-20},{-84,20}})));
  Movrel.Rotational.Differential axle(i=4)
    annotation (Placement(transformation(extent={{-28,-20},{12,20}})));
  Movrel.Rotational.Wheel left(r=0.3, F_N=6000)
    annotation (Placement(transformation(extent={{92,76},{132,116}})));
  Movrel.Rotational.Wheel right(r=0.3, F_N=6000)
    annotation (Placement(transformation(extent={{92,-116},{132,-76}})));
  Movrel.Rotational.Inertia hub1(J=1)
    annotation (Placement(transformation(extent={{20,172},{60,212}})));
  Movrel.Rotational.Inertia hub2(J=1)
    annotation (Placement(transformation(extent={{20,-212},{60,-172}})));
  Movrel.Translational.Mass cart(m=1200)
    annotation (Placement(transformation(extent={{204,-20},{244,20}})));
  Movrel.Signals.Step slope(after=0.05, delay=10)
    annotation (Placement(transformation(extent={{300,84},{340,124}})));
  Movrel.Translational.RoadLoad road(m=1200, c_r=0.015, A=2, c_w=0.5)
    annotation (Placement(transformation(extent={{300,-20},{340,20}})));
equation
  connect(pull.y, motor.tau);
  connect(motor.b, axle.drive);
  connect(axle.left, left.a);
  connect(axle.right, right.a);
  connect(axle.left, hub1.a);
  connect(axle.right, hub2.a);
  connect(left.b, cart.a);
  connect(right.b, cart.a);
  connect(cart.b, road.a);
  connect(slope.y, road.grade);
  annotation (
    experiment(StopTime=40, Interval=0.05),
    __Movrel(recorder={{"cart.v"}, {"road.f_roll", "road.f_air", "road.f_grade"}}));
end Vehicle;
