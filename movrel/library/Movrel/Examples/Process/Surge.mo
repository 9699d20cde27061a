within Movrel.Examples.Process;
model Surge "A long line between a source and a vessel with a gas cushion"
  Movrel.Process.Source mains(p=2e5)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Process.InertPipe line(l=200, d=0.15, lambda=0.02)
    annotation (Placement(transformation(extent={{92,-20},{132,20}})));
  Movrel.Process.GasVessel vessel(V_total=2, V_start=1, p_start=1e5, n=1.2)
    annotation (Placement(transformation(extent={{204,-4},{244,36}})));
equation
  connect(mains.port, line.a);
  connect(line.b, vessel.port);
  annotation (
    experiment(StopTime=60, Interval=0.05, Tolerance=1e-08),
    __Movrel(recorder={{"vessel.p"}, {"line.q"}}));
end Surge;
