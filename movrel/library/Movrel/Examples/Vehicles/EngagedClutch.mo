within Movrel.Examples.Vehicles;
model EngagedClutch "An actuator fills, presses and releases a clutch"
  Movrel.Signals.Pulse wanted(height=1, width=2, period=10, delay=0.5)
    annotation (Placement(transformation(extent={{-212,76},{-172,116}})));
  Movrel.Signals.HysteresisSwitch engaged(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{-116,76},{-76,116}})));
  Movrel.Vehicles.EngagementActuator actuator(t_fill=0.1, t_on=0.3, t_off=0.2)
    annotation (Placement(transformation(extent={{-20,76},{20,116}})));
  Movrel.Rotational.Inertia flywheel(J=1, w_start=100)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Rotational.Clutch clutch(tau_max=200)
    annotation (Placement(transformation(extent={{18.4,-20},{58.4,20}})));
  Movrel.Rotational.Inertia load(J=0.5)
    annotation (Placement(transformation(extent={{133.6,-20},{173.6,20}})));
  Movrel.Rotational.Bearing drag(d=0.2)
    annotation (Placement(transformation(extent={{229.6,-20},{269.6,20}})));
equation
  connect(wanted.y, engaged.u);
  connect(engaged.y, actuator.on);
  connect(actuator.y, clutch.u);
  connect(flywheel.b, clutch.a);
  connect(clutch.b, load.a);
  connect(load.b, drag.a);
  annotation (
    experiment(StopTime=4, Interval=0.005),
    __Movrel(recorder={{"flywheel.w", "load.w"}, {"actuator.y"}}));
end EngagedClutch;
