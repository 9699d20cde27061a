within Movrel.Examples.Mechanics;
model ClutchStart "A running flywheel is coupled to a resting one, and a free wheel lets it run on"
  Movrel.Rotational.Inertia flywheel(J=2, w_start=100)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Signals.Step engage(before=0, after=0.5, delay=1)
    annotation (Placement(transformation(extent={{76,84},{116,124}})));
  Movrel.Rotational.Clutch clutch(tau_max=80)
    annotation (Placement(transformation(extent={{76,-20},{116,20}})));
  Movrel.Rotational.Inertia shaft(J=1)
    annotation (Placement(transformation(extent={{172,-20},{212,20}})));
  Movrel.Signals.Step stop(before=0, after=1, delay=4)
    annotation (Placement(transformation(extent={{172,-116},{212,-76}})));
  Movrel.Rotational.Brake brake(tau_max=50)
    annotation (Placement(transformation(extent={{268,-116},{308,-76}})));
  Movrel.Rotational.FreeWheel freewheel
    annotation (Placement(transformation(extent={{268,-20},{308,20}})));
  Movrel.Rotational.Inertia load(J=0.5)
    annotation (Placement(transformation(extent={{364,-20},{404,20}})));
equation
  connect(flywheel.b, clutch.a);
  connect(engage.y, clutch.u);
  connect(clutch.b, shaft.a);
  connect(shaft.b, freewheel.a);
  connect(freewheel.b, load.a);
  connect(shaft.b, brake.a);
  connect(stop.y, brake.u);
  annotation (
    experiment(StopTime=8, Interval=0.01, Tolerance=1e-08),
    __Movrel(recorder={{"flywheel.w", "shaft.w", "load.w"}, {"clutch.tau", "freewheel.tau"}}));
end ClutchStart;
