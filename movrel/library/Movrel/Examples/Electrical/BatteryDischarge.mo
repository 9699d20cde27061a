within Movrel.Examples.Electrical;
model BatteryDischarge "A battery of four cells, loaded and left alone"
  Movrel.Electrical.Battery battery(capacity=7200, cells=4, R_0=5e-3, R={3e-3, 2e-3}, tau={20, 300}, soc_start=0.9)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}}, rotation=-90)));
  Movrel.Electrical.DrivenCurrent load
    annotation (Placement(transformation(extent={{140,-100},{180,-60}}, rotation=-90)));
  Movrel.Signals.Pulse current(height=2, width=600, period=1800, delay=60)
    annotation (Placement(transformation(extent={{268,-100},{308,-60}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-204},{20,-164}})));
equation
  connect(battery.a, load.a);
  connect(battery.b, load.b);
  connect(battery.b, ground.a);
  connect(current.y, load.u);
  annotation (
    experiment(StopTime=1800, Interval=2),
    __Movrel(recorder={{"battery.v"}, {"battery.soc"}}));
end BatteryDischarge;
