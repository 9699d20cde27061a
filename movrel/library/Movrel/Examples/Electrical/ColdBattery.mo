within Movrel.Examples.Electrical;
model ColdBattery "A cold pack warms itself while it is loaded"
  Movrel.Electrical.BatteryByMap battery(capacity=7200, cells=14, soc_start=0.9, T_start=263.15, T_ambient=263.15)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}}, rotation=-90)));
  Movrel.Electrical.DrivenCurrent load
    annotation (Placement(transformation(extent={{114.4,-20},{154.4,20}}, rotation=-90)));
  Movrel.Signals.Constant current(value=3)
    annotation (Placement(transformation(extent={{229.6,-20},{269.6,20}}, rotation=180)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-135.2},{20,-95.2}})));
equation
  connect(battery.a, load.a);
  connect(battery.b, load.b);
  connect(battery.b, ground.a);
  connect(current.y, load.u);
  annotation (
    experiment(StopTime=1800, Interval=2),
    __Movrel(recorder={{"battery.v"}, {"battery.T"}, {"battery.soc"}}));
end ColdBattery;
