within Movrel.Examples.Mechanics;
model StopsAndPlay "A body between elastic stops, and a drive with play"
  Movrel.Translational.Mass body(m=1, v_start=1)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Translational.EndStop stops(s_max=0.1, s_min=-0.1, c=1e4, d=0)
    annotation (Placement(transformation(extent={{124,-20},{84,20}})));
  Movrel.Translational.HeldRod wall
    annotation (Placement(transformation(extent={{180,-20},{220,20}}, rotation=90)));
  Movrel.Rotational.Inertia rotor(J=1, w_start=1)
    annotation (Placement(transformation(extent={{-20,-124},{20,-84}})));
  Movrel.Rotational.Backlash play(play=0.2, c=1e4, d=0)
    annotation (Placement(transformation(extent={{84,-124},{124,-84}})));
  Movrel.Rotational.Inertia driven(J=1)
    annotation (Placement(transformation(extent={{180,-124},{220,-84}})));
  Movrel.Rotational.EndStop stop2(phi_max=2, phi_min=-2, c=100, d=0)
    annotation (Placement(transformation(extent={{316,-124},{276,-84}})));
  Movrel.Rotational.HeldShaft wall2
    annotation (Placement(transformation(extent={{372,-124},{412,-84}}, rotation=90)));
equation
  connect(body.b, stops.b);
  connect(stops.a, wall.a);
  connect(rotor.b, play.a);
  connect(play.b, driven.a);
  connect(driven.b, stop2.b);
  connect(stop2.a, wall2.a);
  annotation (
    experiment(StopTime=2, Interval=0.001, Tolerance=1e-09),
    __Movrel(recorder={{"body.s"}, {"rotor.w", "driven.w"}}));
end StopsAndPlay;
