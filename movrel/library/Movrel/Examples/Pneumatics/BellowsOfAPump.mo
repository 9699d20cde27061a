within Movrel.Examples.Pneumatics;
model BellowsOfAPump "A chamber that is driven draws air in and sends it out"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-308,172},{-268,212}})));
  Movrel.Signals.Sine crank(amplitude=0.02, f=2, offset=0.03)
    annotation (Placement(transformation(extent={{-308,76},{-268,116}})));
  Movrel.Signals.Sine rate(amplitude=0.251327412, f=2, phase=1.5707963267948966)
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Pneumatics.DrivenChamber bellows(p_start=gas.p_ambient)
    annotation (Placement(transformation(extent={{-77.6,-20},{-37.6,20}})));
  Movrel.Pneumatics.CheckValve inlet(C=2e-8)
    annotation (Placement(transformation(extent={{-212,-77.6},{-172,-37.6}})));
  Movrel.Pneumatics.Atmosphere room
    annotation (Placement(transformation(extent={{-308,-77.6},{-268,-37.6}}, rotation=180)));
  Movrel.Pneumatics.CheckValve outlet(C=2e-8)
    annotation (Placement(transformation(extent={{37.6,-116},{77.6,-76}})));
  Movrel.Pneumatics.Chamber receiver(V_0=1e-3)
    annotation (Placement(transformation(extent={{152.8,-116},{192.8,-76}})));
  Movrel.Pneumatics.Restriction nozzle(C=5e-10)
    annotation (Placement(transformation(extent={{248.8,-116},{288.8,-76}})));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{344.8,-116},{384.8,-76}})));
equation
  connect(crank.y, bellows.s);
  connect(rate.y, bellows.v);
  connect(room.port, inlet.a);
  connect(inlet.b, bellows.port);
  connect(bellows.port, outlet.a);
  connect(outlet.b, receiver.a);
  connect(receiver.b, nozzle.a);
  connect(nozzle.b, outside.port);
  annotation (
    experiment(StopTime=2, Interval=0.002),
    __Movrel(recorder={{"bellows.p", "receiver.p"}, {"inlet.m", "outlet.m"}}));
end BellowsOfAPump;
