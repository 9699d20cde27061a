within Movrel.Examples.Process;
model Reactor "A cooled reactor with one reaction, fed all the time"
  Movrel.Signals.Constant feed(value=0.5)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Process.Mixtures.Inflow inflow(n=2, c={2, 0}, T=293.15)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Process.Mixtures.StirredReactor reactor(n=2, r=1, nu=[-1, 1], order=[1, 0], k_0={2e-3}, E={6e4}, H={-8e4}, G=2000, V_start=0.5, T_start=293.15)
    annotation (Placement(transformation(extent={{108,-52},{148,-12}})));
  Movrel.Thermal.HeldTemperature water(T=288.15)
    annotation (Placement(transformation(extent={{-20,-132},{20,-92}})));
  Movrel.Signals.Constant pull(value=-0.5)
    annotation (Placement(transformation(extent={{76,-228},{116,-188}})));
  Movrel.Process.Mixtures.Inflow outflow(n=2)
    annotation (Placement(transformation(extent={{212,-196},{252,-156}}, rotation=180)));
  Movrel.Process.Mixtures.MixtureAnalyser sensor(n=2)
    annotation (Placement(transformation(extent={{228,-92},{268,-52}})));
equation
  connect(feed.y, inflow.m);
  connect(inflow.port, reactor.inlet);
  connect(water.b, reactor.jacket);
  connect(reactor.outlet, sensor.a);
  connect(sensor.b, outflow.port);
  connect(pull.y, outflow.m);
  annotation (
    experiment(StopTime=6000, Interval=10, Tolerance=1e-07),
    __Movrel(recorder={{"reactor.T"}, {"reactor.c[1]", "reactor.c[2]"}}));
end Reactor;
