within Movrel.Examples.Hydraulics;
model Clamp "A clamp closes with reduced pressure, is locked, and opens again"
  Movrel.Hydraulics.HeldPressure supply(p_0=120e5)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Hydraulics.ReducingValve reduced(p_set=40e5)
    annotation (Placement(transformation(extent={{76,37.6},{116,77.6}})));
  Movrel.Hydraulics.Chamber manifold(V=2e-4)
    annotation (Placement(transformation(extent={{133.6,133.6},{173.6,173.6}})));
  Movrel.Signals.Pulse close(height=1, width=2, period=20, delay=0.5)
    annotation (Placement(transformation(extent={{-20,-154.4},{20,-114.4}})));
  Movrel.Signals.HysteresisSwitch on(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{76,-154.4},{116,-114.4}})));
  Movrel.Hydraulics.Valve42 valve(q_n=5/60000)
    annotation (Placement(transformation(extent={{172,-58.4},{212,-18.4}})));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{229.6,-173.6},{269.6,-133.6}})));
  Movrel.Hydraulics.PilotCheckValve lock(q_n=10/60000)
    annotation (Placement(transformation(extent={{172,76},{212,116}}, rotation=90)));
  Movrel.Hydraulics.DoubleActingCylinder cylinder(stroke=0.06, s_start=0.005, d_piston=0.04, d_rod=0.025, m=3, f_c=60)
    annotation (Placement(transformation(extent={{210.4,191.2},{250.4,231.2}})));
  Movrel.Translational.SpringDamper workpiece(c=5e6, d=2e4)
    annotation (Placement(transformation(extent={{402.4,191.2},{442.4,231.2}})));
  Movrel.Translational.Backlash gap(play=0.02, c=5e6, d=2e3)
    annotation (Placement(transformation(extent={{325.6,191.2},{365.6,231.2}})));
  Movrel.Translational.HeldRod bench
    annotation (Placement(transformation(extent={{498.4,191.2},{538.4,231.2}}, rotation=180)));
equation
  connect(supply.port, reduced.a);
  connect(reduced.b, manifold.port);
  connect(reduced.b, valve.P);
  connect(tank.port, valve.T);
  connect(close.y, on.u);
  connect(on.y, valve.on);
  connect(valve.A, lock.a);
  connect(lock.b, cylinder.a);
  connect(valve.B, cylinder.b);
  connect(valve.B, lock.x);
  connect(cylinder.rod, gap.a);
  connect(gap.b, workpiece.a);
  connect(workpiece.b, bench.a);
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"cylinder.s"}, {"cylinder.p_a", "cylinder.p_b"}, {"workpiece.f"}}));
end Clamp;
