within Movrel.Examples.Hydraulics;
model LoadHolding "A load is raised and lowered over a counterbalance valve"
  Movrel.Hydraulics.HeldPressure supply(p_0=150e5)
    annotation (Placement(transformation(extent={{-20,-135.2},{20,-95.2}})));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{76,-135.2},{116,-95.2}})));
  Movrel.Signals.Pulse raise(height=1, width=3, period=20, delay=0.5)
    annotation (Placement(transformation(extent={{-250.4,-20},{-210.4,20}})));
  Movrel.Signals.HysteresisSwitch up(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{-154.4,-20},{-114.4,20}})));
  Movrel.Signals.Pulse lower(height=1, width=3, period=20, delay=5)
    annotation (Placement(transformation(extent={{325.6,-20},{365.6,20}}, rotation=180)));
  Movrel.Signals.HysteresisSwitch down(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{229.6,-20},{269.6,20}}, rotation=180)));
  Movrel.Hydraulics.Valve43 valve(centre=Movrel.Hydraulics.Centre.float, q_n=10/60000)
    annotation (Placement(transformation(extent={{28,-20},{68,20}})));
  Movrel.Hydraulics.CounterbalanceValve holding(p_set=120e5, q_n=20/60000)
    annotation (Placement(transformation(extent={{-20,114.4},{20,154.4}}, rotation=-90)));
  Movrel.Hydraulics.DoubleActingCylinder cylinder(stroke=0.5, d_piston=0.05, d_rod=0.028, m=20, f_c=200)
    annotation (Placement(transformation(extent={{28,229.6},{68,269.6}})));
  Movrel.Translational.Mass load(m=800)
    annotation (Placement(transformation(extent={{172,229.6},{212,269.6}})));
  Movrel.Translational.DrivenForce weight
    annotation (Placement(transformation(extent={{287.2,229.6},{327.2,269.6}}, rotation=180)));
  Movrel.Signals.Constant newtons(value=-8e3)
    annotation (Placement(transformation(extent={{402.4,229.6},{442.4,269.6}}, rotation=180)));
equation
  connect(supply.port, valve.P);
  connect(tank.port, valve.T);
  connect(raise.y, up.u);
  connect(up.y, valve.to_a);
  connect(lower.y, down.u);
  connect(down.y, valve.to_b);
  connect(valve.A, holding.b);
  connect(holding.a, cylinder.a);
  connect(valve.B, cylinder.b);
  connect(valve.B, holding.x);
  connect(cylinder.rod, load.a);
  connect(load.b, weight.b);
  connect(newtons.y, weight.f);
  annotation (
    experiment(StopTime=9, Interval=0.01),
    __Movrel(recorder={{"load.s"}, {"cylinder.p_a", "cylinder.p_b"}, {"valve.x"}}));
end LoadHolding;
