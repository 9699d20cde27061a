within Movrel.Examples.Pneumatics;
model ControlValve "A diaphragm opens a valve against its spring as the signal pressure asks"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Signals.Ramp signal(height=0.8e5, duration=20, offset=1.2e5, delay=5)
    annotation (Placement(transformation(extent={{-212,76},{-172,116}})));
  Movrel.Pneumatics.DrivenPressure positioner
    annotation (Placement(transformation(extent={{-116,76},{-76,116}})));
  Movrel.Pneumatics.Restriction tubing(C=5e-9)
    annotation (Placement(transformation(extent={{-20,76},{20,116}})));
  Movrel.Pneumatics.DiaphragmActuator actuator(stroke=0.03, c=5e4, f_0=400)
    annotation (Placement(transformation(extent={{76,76},{116,116}})));
  Movrel.Translational.DisplacementGauge lift
    annotation (Placement(transformation(extent={{191.2,76},{231.2,116}})));
  Movrel.Signals.Gain share(k=33)
    annotation (Placement(transformation(extent={{287.2,76},{327.2,116}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=5e5)
    annotation (Placement(transformation(extent={{133.6,-77.6},{173.6,-37.6}})));
  Movrel.Pneumatics.DrivenRestriction valve(C=1e-7)
    annotation (Placement(transformation(extent={{383.2,-77.6},{423.2,-37.6}})));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{498.4,-77.6},{538.4,-37.6}})));
equation
  connect(signal.y, positioner.p);
  connect(positioner.port, tubing.a);
  connect(tubing.b, actuator.a);
  connect(actuator.rod, lift.a);
  connect(lift.s, share.u);
  connect(share.y, valve.opening);
  connect(supply.port, valve.a);
  connect(valve.b, outside.port);
  annotation (
    experiment(StopTime=30, Interval=0.02),
    __Movrel(recorder={{"positioner.p", "actuator.a.p"}, {"actuator.s"}, {"valve.m"}}));
end ControlValve;
