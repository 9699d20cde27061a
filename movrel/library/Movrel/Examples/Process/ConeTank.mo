within Movrel.Examples.Process;
model ConeTank "A conical tank runs empty through an orifice"
  Movrel.Process.Tank tank(shape=[0, 0.0001; 1, 1.0], level_start=0.9)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Process.Orifice outlet(diameter=0.05)
    annotation (Placement(transformation(extent={{108,-64},{148,-24}})));
  Movrel.Process.Outfall drain
    annotation (Placement(transformation(extent={{220,-76},{260,-36}})));
  Movrel.Process.LevelGauge gauge
    annotation (Placement(transformation(extent={{108,-156},{148,-116}})));
equation
  connect(tank.outlet, outlet.a);
  connect(outlet.b, drain.port);
  connect(tank.outlet, gauge.a);
  annotation (
    experiment(StopTime=60, Interval=0.1, Tolerance=1e-08),
    __Movrel(recorder={{"tank.level"}, {"outlet.q"}}));
end ConeTank;
