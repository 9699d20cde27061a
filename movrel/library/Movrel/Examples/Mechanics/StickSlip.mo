within Movrel.Examples.Mechanics;
model StickSlip "A block that sticks until the force is large enough"
  Movrel.Signals.Ramp rise(height=30, duration=3)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Translational.DrivenForce force
    annotation (Placement(transformation(extent={{76,-20},{116,20}})));
  Movrel.Translational.Mass crate(m=2)
    annotation (Placement(transformation(extent={{172,-20},{212,20}})));
  Movrel.Translational.DryFriction ground(f_c=10, f_s=15, v_s=0.05)
    annotation (Placement(transformation(extent={{268,-20},{308,20}})));
equation
  connect(rise.y, force.f);
  connect(force.b, crate.a);
  connect(crate.b, ground.a);
  annotation (
    experiment(StopTime=3, Interval=0.005, Tolerance=1e-08),
    __Movrel(recorder={{"crate.v"}, {"ground.f"}}));
end StickSlip;
