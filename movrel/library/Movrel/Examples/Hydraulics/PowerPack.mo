within Movrel.Examples.Hydraulics;
model PowerPack "A pump fills an accumulator against its relief valve"
  inner Movrel.Hydraulics.Oil oil
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Signals.Ramp run_up(height=150, duration=0.5)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Rotational.DrivenSpeed drive
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Hydraulics.Pump pump(D=16e-6)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{-20,-116},{20,-76}})));
  Movrel.Hydraulics.Chamber outlet(V=1e-3)
    annotation (Placement(transformation(extent={{-20,95.2},{20,135.2}})));
  Movrel.Hydraulics.ReliefValve relief(p_set=120e5, q_n=60/60000)
    annotation (Placement(transformation(extent={{76,-20},{116,20}}, rotation=-90)));
  Movrel.Hydraulics.Tank tank_2
    annotation (Placement(transformation(extent={{76,-116},{116,-76}})));
  Movrel.Hydraulics.CheckValve check
    annotation (Placement(transformation(extent={{133.6,37.6},{173.6,77.6}})));
  Movrel.Hydraulics.Accumulator accumulator(V_gas=2e-3, p_precharge=60e5)
    annotation (Placement(transformation(extent={{229.6,114.4},{269.6,154.4}})));
  Movrel.Hydraulics.PressureGauge gauge
    annotation (Placement(transformation(extent={{325.6,114.4},{365.6,154.4}})));
  Movrel.Hydraulics.Line line(l=8, d=0.012, n=4)
    annotation (Placement(transformation(extent={{268,37.6},{308,77.6}})));
  Movrel.Hydraulics.Throttle consumer(q_n=12/60000, dp_n=50e5)
    annotation (Placement(transformation(extent={{364,37.6},{404,77.6}})));
  Movrel.Hydraulics.Tank tank_3
    annotation (Placement(transformation(extent={{460,-58.4},{500,-18.4}})));
equation
  connect(run_up.y, drive.w);
  connect(drive.b, pump.shaft);
  connect(tank.port, pump.a);
  connect(pump.b, outlet.port);
  connect(pump.b, relief.a);
  connect(relief.b, tank_2.port);
  connect(pump.b, check.a);
  connect(check.b, accumulator.port);
  connect(accumulator.port, gauge.a);
  connect(accumulator.port, line.a);
  connect(line.b, consumer.a);
  connect(consumer.b, tank_3.port);
  annotation (
    experiment(StopTime=10, Interval=0.01),
    __Movrel(recorder={{"outlet.p", "accumulator.p"}, {"pump.q", "relief.q", "consumer.q"}}));
end PowerPack;
