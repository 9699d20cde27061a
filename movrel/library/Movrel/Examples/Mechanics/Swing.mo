within Movrel.Examples.Mechanics;
model Swing "A counterweight swings about its axis and moves a rack and a lever"
  Movrel.Rotational.Inertia arm(J=2.5, phi_start=-1.4707963)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Rotational.GravityTorque weight(m=10, r=0.5)
    annotation (Placement(transformation(extent={{116,52},{76,92}})));
  Movrel.Rotational.RackPinion pinion(r=0.1)
    annotation (Placement(transformation(extent={{84,-44},{124,-4}})));
  Movrel.Translational.Lever lever(l_a=1, l_b=2)
    annotation (Placement(transformation(extent={{188,-44},{228,-4}})));
  Movrel.Translational.Mass end_(m=0)
    annotation (Placement(transformation(extent={{292,-44},{332,-4}})));
  Movrel.Rotational.Encoder angle
    annotation (Placement(transformation(extent={{84,-124},{124,-84}})));
equation
  connect(arm.b, weight.a);
  connect(arm.b, pinion.a);
  connect(pinion.b, lever.a);
  connect(lever.b, end_.a);
  connect(arm.b, angle.a);
  annotation (
    experiment(StopTime=6, Interval=0.005, Tolerance=1e-09),
    __Movrel(recorder={{"angle.phi"}, {"end_.s"}}));
end Swing;
