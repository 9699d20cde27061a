within Movrel.Examples.Pneumatics;
model Receiver "A compressor fills a receiver, which is let off"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-250.4,114.4},{-210.4,154.4}})));
  Movrel.Signals.Pulse delivery(height=0.01, width=8, period=100)
    annotation (Placement(transformation(extent={{-250.4,18.4},{-210.4,58.4}})));
  Movrel.Pneumatics.DrivenFlow compressor(T=330)
    annotation (Placement(transformation(extent={{-154.4,18.4},{-114.4,58.4}})));
  Movrel.Pneumatics.CheckValve check(C=5e-8)
    annotation (Placement(transformation(extent={{-58.4,18.4},{-18.4,58.4}})));
  Movrel.Pneumatics.Chamber receiver(V_0=5e-3, G=2)
    annotation (Placement(transformation(extent={{56.8,18.4},{96.8,58.4}})));
  Movrel.Pneumatics.PressureGauge gauge
    annotation (Placement(transformation(extent={{133.6,114.4},{173.6,154.4}})));
  Movrel.Pneumatics.ReliefValve relief(p_set=9e5, C=5e-8)
    annotation (Placement(transformation(extent={{56.8,-116},{96.8,-76}}, rotation=-90)));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{56.8,-212},{96.8,-172}}, rotation=-90)));
  Movrel.Signals.Pulse off_pulse(height=1, width=100, period=200, delay=12)
    annotation (Placement(transformation(extent={{37.6,-269.6},{77.6,-229.6}})));
  Movrel.Signals.HysteresisSwitch let_off(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{133.6,-269.6},{173.6,-229.6}})));
  Movrel.Pneumatics.Valve22 valve(C=1e-8)
    annotation (Placement(transformation(extent={{210.4,18.4},{250.4,58.4}})));
  Movrel.Pneumatics.Thermometer thermometer
    annotation (Placement(transformation(extent={{306.4,18.4},{346.4,58.4}})));
  Movrel.Pneumatics.FlowMeter meter
    annotation (Placement(transformation(extent={{402.4,18.4},{442.4,58.4}})));
  Movrel.Pneumatics.Restriction nozzle(C=2e-8, b_c=0.4)
    annotation (Placement(transformation(extent={{498.4,18.4},{538.4,58.4}})));
  Movrel.Pneumatics.Atmosphere outside_2
    annotation (Placement(transformation(extent={{594.4,18.4},{634.4,58.4}})));
equation
  connect(delivery.y, compressor.m);
  connect(compressor.port, check.a);
  connect(check.b, receiver.a);
  connect(receiver.b, gauge.a);
  connect(receiver.c, relief.a);
  connect(relief.b, outside.port);
  connect(off_pulse.y, let_off.u);
  connect(let_off.y, valve.on);
  connect(receiver.b, valve.a);
  connect(valve.b, thermometer.a);
  connect(thermometer.b, meter.a);
  connect(meter.b, nozzle.a);
  connect(nozzle.b, outside_2.port);
  annotation (
    experiment(StopTime=20, Interval=0.02),
    __Movrel(recorder={{"receiver.p"}, {"receiver.T", "thermometer.T"}, {"meter.m"}}));
end Receiver;
