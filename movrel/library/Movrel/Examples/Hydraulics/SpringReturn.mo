within Movrel.Examples.Hydraulics;
model SpringReturn "A spring returns a single-acting cylinder when its valve lets go"
  Movrel.Signals.Constant delivery(value=3/60000)
    annotation (Placement(transformation(extent={{-212,76},{-172,116}})));
  Movrel.Hydraulics.DrivenFlow pump
    annotation (Placement(transformation(extent={{-116,76},{-76,116}})));
  Movrel.Hydraulics.ReliefValve relief(p_set=60e5)
    annotation (Placement(transformation(extent={{-39.2,-0.8},{0.8,39.2}}, rotation=-90)));
  Movrel.Hydraulics.Chamber gallery(V=1e-4)
    annotation (Placement(transformation(extent={{-39.2,172},{0.8,212}})));
  Movrel.Hydraulics.Tank tank_2
    annotation (Placement(transformation(extent={{-39.2,-96.8},{0.8,-56.8}})));
  Movrel.Signals.Pulse lift(height=1, width=2, period=20, delay=0.5)
    annotation (Placement(transformation(extent={{-135.2,-192.8},{-95.2,-152.8}})));
  Movrel.Signals.HysteresisSwitch on(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{-39.2,-192.8},{0.8,-152.8}})));
  Movrel.Hydraulics.Valve32 valve(q_n=10/60000)
    annotation (Placement(transformation(extent={{76,-20},{116,20}})));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{114.4,-135.2},{154.4,-95.2}})));
  Movrel.Hydraulics.SingleActingCylinder cylinder(stroke=0.1, d_piston=0.03, m=2, f_c=30, c=2e3, f_0=100)
    annotation (Placement(transformation(extent={{152.8,95.2},{192.8,135.2}})));
  Movrel.Translational.Mass platform(m=40)
    annotation (Placement(transformation(extent={{268,95.2},{308,135.2}})));
  Movrel.Hydraulics.HeldFlow leakage(q_0=-1e-7)
    annotation (Placement(transformation(extent={{76,172},{116,212}})));
equation
  connect(delivery.y, pump.q);
  connect(pump.port, gallery.port);
  connect(pump.port, relief.a);
  connect(relief.b, tank_2.port);
  connect(pump.port, valve.P);
  connect(tank.port, valve.T);
  connect(lift.y, on.u);
  connect(on.y, valve.on);
  connect(valve.A, cylinder.a);
  connect(cylinder.rod, platform.a);
  connect(leakage.port, cylinder.a);
  annotation (
    experiment(StopTime=5, Interval=0.01),
    __Movrel(recorder={{"cylinder.s"}, {"cylinder.p", "relief.a.p"}}));
end SpringReturn;
