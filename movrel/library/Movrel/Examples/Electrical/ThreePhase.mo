within Movrel.Examples.Electrical;
model ThreePhase "An induction machine starts at the mains; a synchronous one is turned"
  Movrel.Electrical.ThreePhaseVoltage mains(V_line=400, f=50)
    annotation (Placement(transformation(extent={{-20,-60},{20,-20}})));
  Movrel.Electrical.InductionMachine machine
    annotation (Placement(transformation(extent={{124,-100},{164,-60}})));
  Movrel.Rotational.Inertia load(J=0.05)
    annotation (Placement(transformation(extent={{236,-100},{276,-60}})));
  Movrel.Electrical.Star star(R=10, L=20e-3)
    annotation (Placement(transformation(extent={{124,12},{164,52}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-124,-132},{-84,-92}})));
  Movrel.Signals.Constant w(value=100)
    annotation (Placement(transformation(extent={{-20,-260},{20,-220}})));
  Movrel.Rotational.DrivenSpeed drive
    annotation (Placement(transformation(extent={{76,-260},{116,-220}})));
  Movrel.Electrical.SynchronousMachine generator
    annotation (Placement(transformation(extent={{228,-260},{188,-220}})));
  Movrel.Electrical.Star load2(R=5, L=1e-4)
    annotation (Placement(transformation(extent={{332,-228},{372,-188}})));
  Movrel.Electrical.Ground ground2
    annotation (Placement(transformation(extent={{444,-308},{484,-268}})));
equation
  connect(mains.n, ground.a);
  connect(mains.line, machine.line);
  connect(machine.shaft, load.a);
  connect(mains.line, star.line);
  connect(star.n, ground.a);
  connect(w.y, drive.w);
  connect(drive.b, generator.shaft);
  connect(generator.line, load2.line);
  connect(load2.n, ground2.a);
  annotation (
    experiment(StopTime=1, Interval=0.0005, Tolerance=1e-06),
    __Movrel(recorder={{"machine.w"}, {"machine.tau_e"}}));
end ThreePhase;
