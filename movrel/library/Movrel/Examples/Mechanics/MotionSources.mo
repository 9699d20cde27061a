within Movrel.Examples.Mechanics;
model MotionSources "Prescribed motion of a shaft and a rod"
  Movrel.Signals.Constant w(value=3)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Rotational.DrivenSpeed turn
    annotation (Placement(transformation(extent={{76,-20},{116,20}})));
  Movrel.Rotational.Belt belt(r_a=0.1, r_b=0.3, c=1e6, d=1e3)
    annotation (Placement(transformation(extent={{172,-20},{212,20}})));
  Movrel.Rotational.Inertia pulley(J=0.2)
    annotation (Placement(transformation(extent={{268,-20},{308,20}})));
  Movrel.Signals.Sine s(amplitude=0.02, f=2)
    annotation (Placement(transformation(extent={{-20,-116},{20,-76}})));
  Movrel.Translational.DrivenPosition shake
    annotation (Placement(transformation(extent={{76,-116},{116,-76}})));
  Movrel.Translational.Damper damper(d=50)
    annotation (Placement(transformation(extent={{172,-116},{212,-76}})));
  Movrel.Translational.Mass body(m=5)
    annotation (Placement(transformation(extent={{268,-116},{308,-76}})));
  Movrel.Translational.PowerMeter power
    annotation (Placement(transformation(extent={{364,-116},{404,-76}})));
  Movrel.Signals.Constant brake_on(value=0.5)
    annotation (Placement(transformation(extent={{460,-28},{500,12}})));
  Movrel.Translational.Brake brake(f_max=0)
    annotation (Placement(transformation(extent={{460,-116},{500,-76}})));
equation
  connect(w.y, turn.w);
  connect(turn.b, belt.a);
  connect(belt.b, pulley.a);
  connect(s.y, shake.s);
  connect(shake.b, damper.a);
  connect(damper.b, body.a);
  connect(body.b, power.a);
  connect(power.b, brake.a);
  connect(brake_on.y, brake.u);
  annotation (
    experiment(StopTime=3, Interval=0.005, Tolerance=1e-09),
    __Movrel(recorder={{"pulley.w"}, {"body.s"}}));
end MotionSources;
