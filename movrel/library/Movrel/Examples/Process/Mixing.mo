within Movrel.Examples.Process;
model Mixing "Two flows meet and are split again"
  Movrel.Signals.Constant m1(value=2)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Signals.Constant m2(value=1)
    annotation (Placement(transformation(extent={{-116,-132},{-76,-92}})));
  Movrel.Process.Mixtures.Inflow warm(n=1, c={3}, T=333.15)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Process.Mixtures.Inflow cold(n=1, c={0}, T=283.15)
    annotation (Placement(transformation(extent={{-20,-132},{20,-92}})));
  Movrel.Process.Mixtures.Junction tee(n=1)
    annotation (Placement(transformation(extent={{92,-20},{132,20}})));
  Movrel.Process.Mixtures.MixtureAnalyser meter(n=1)
    annotation (Placement(transformation(extent={{188,-20},{228,20}})));
  Movrel.Process.Mixtures.Resistance r1(n=1, k=1e3)
    annotation (Placement(transformation(extent={{300,36},{340,76}})));
  Movrel.Process.Mixtures.Resistance r2(n=1, k=2e3)
    annotation (Placement(transformation(extent={{300,-76},{340,-36}})));
  Movrel.Process.Mixtures.Outfall out1(n=1)
    annotation (Placement(transformation(extent={{396,36},{436,76}})));
  Movrel.Process.Mixtures.Outfall out2(n=1)
    annotation (Placement(transformation(extent={{396,-76},{436,-36}})));
equation
  connect(m1.y, warm.m);
  connect(m2.y, cold.m);
  connect(warm.port, tee.a);
  connect(cold.port, tee.d);
  connect(tee.b, meter.a);
  connect(meter.b, r1.a);
  connect(meter.b, r2.a);
  connect(r1.b, out1.port);
  connect(r2.b, out2.port);
  annotation (
    experiment(StopTime=1),
    __Movrel(recorder={{"meter.T"}, {"r1.a.m", "r2.a.m"}}));
end Mixing;
