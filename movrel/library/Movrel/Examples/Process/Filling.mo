within Movrel.Examples.Process;
model Filling "A basin is fed and runs out through an opening until both flows agree"
  Movrel.Signals.Constant feed(value=5e-3)
    annotation (Placement(transformation(extent={{-160,-20},{-120,20}})));
  Movrel.Process.Inflow inflow
    annotation (Placement(transformation(extent={{-80,-20},{-40,20}})));
  Movrel.Process.Basin basin(area=2)
    annotation (Placement(transformation(extent={{0,-52},{40,-12}})));
  Movrel.Process.Orifice outlet(diameter=0.06)
    annotation (Placement(transformation(extent={{80,-68},{120,-28}})));
  Movrel.Process.Outfall drain
    annotation (Placement(transformation(extent={{160,-68},{200,-28}})));
equation
  connect(feed.y, inflow.q);
  connect(inflow.port, basin.inlet);
  connect(basin.outlet, outlet.a);
  connect(outlet.b, drain.port);
  annotation (
    experiment(StopTime=3600, Interval=5),
    __Movrel(recorder={{"basin.level"}, {"basin.q_in", "basin.q_out"}}));
end Filling;
