within Movrel.Examples.Pneumatics;
model HoldingPress "A spring-returned cylinder presses and is held by a piloted check valve"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=7e5)
    annotation (Placement(transformation(extent={{-20,-173.6},{20,-133.6}})));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{152.8,-154.4},{192.8,-114.4}})));
  Movrel.Signals.Pulse press_pulse(height=1, width=2, period=100, delay=0.5)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Signals.HysteresisSwitch press(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Pneumatics.Valve52 valve(C=2e-8)
    annotation (Placement(transformation(extent={{37.6,-20},{77.6,20}})));
  Movrel.Pneumatics.Atmosphere outside_2
    annotation (Placement(transformation(extent={{-116,-173.6},{-76,-133.6}}, rotation=180)));
  Movrel.Pneumatics.PilotCheckValve lock(C=2e-8)
    annotation (Placement(transformation(extent={{-0.8,104.8},{39.2,144.8}}, rotation=90)));
  Movrel.Pneumatics.SingleActingCylinder cylinder(stroke=0.05, d_piston=0.05, m=1, f_c=20)
    annotation (Placement(transformation(extent={{76,229.6},{116,269.6}})));
  Movrel.Translational.Mass ram(m=5)
    annotation (Placement(transformation(extent={{191.2,229.6},{231.2,269.6}})));
equation
  connect(supply.port, valve.P);
  connect(valve.R, outside_2.port);
  connect(valve.S, outside.port);
  connect(press_pulse.y, press.u);
  connect(press.y, valve.on);
  connect(valve.A, lock.a);
  connect(lock.b, cylinder.a);
  connect(valve.B, lock.x);
  connect(cylinder.rod, ram.a);
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"ram.s"}, {"cylinder.a.p"}}));
end HoldingPress;
