within Movrel.Examples.Hydraulics;
model FlowCurves "One pressure on resistances of every kind"
  Movrel.Signals.Sine swing(amplitude=60e5, f=0.5)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Hydraulics.DrivenPressure source
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Hydraulics.Orifice orifice(d=2e-3)
    annotation (Placement(transformation(extent={{76,172},{116,212}})));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{210.4,114.4},{250.4,154.4}})));
  Movrel.Hydraulics.Capillary capillary(l=0.5, d=1.5e-3)
    annotation (Placement(transformation(extent={{76,76},{116,116}})));
  Movrel.Hydraulics.Tank tank_2
    annotation (Placement(transformation(extent={{210.4,18.4},{250.4,58.4}})));
  Movrel.Signals.Constant half(value=0.5)
    annotation (Placement(transformation(extent={{-20,-77.6},{20,-37.6}})));
  Movrel.Hydraulics.DrivenThrottle throttle
    annotation (Placement(transformation(extent={{76,-20},{116,20}})));
  Movrel.Hydraulics.Tank tank_3
    annotation (Placement(transformation(extent={{210.4,-77.6},{250.4,-37.6}})));
  Movrel.Hydraulics.FlowControlValve control(q_set=6/60000)
    annotation (Placement(transformation(extent={{76,-154.4},{116,-114.4}})));
  Movrel.Hydraulics.FlowMeter meter
    annotation (Placement(transformation(extent={{172,-154.4},{212,-114.4}})));
  Movrel.Hydraulics.Tank tank_4
    annotation (Placement(transformation(extent={{268,-212},{308,-172}})));
  Movrel.Signals.Constant closed(value=0)
    annotation (Placement(transformation(extent={{-58.4,-269.6},{-18.4,-229.6}})));
  Movrel.Signals.HysteresisSwitch never(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{18.4,-269.6},{58.4,-229.6}})));
  Movrel.Hydraulics.Valve22 valve(normally_open=true)
    annotation (Placement(transformation(extent={{114.4,-269.6},{154.4,-229.6}})));
  Movrel.Hydraulics.Tank tank_5
    annotation (Placement(transformation(extent={{210.4,-346.4},{250.4,-306.4}})));
equation
  connect(swing.y, source.p);
  connect(source.port, orifice.a);
  connect(orifice.b, tank.port);
  connect(source.port, capillary.a);
  connect(capillary.b, tank_2.port);
  connect(source.port, throttle.a);
  connect(half.y, throttle.opening);
  connect(throttle.b, tank_3.port);
  connect(source.port, control.a);
  connect(control.b, meter.a);
  connect(meter.b, tank_4.port);
  connect(source.port, valve.a);
  connect(closed.y, never.u);
  connect(never.y, valve.on);
  connect(valve.b, tank_5.port);
  annotation (
    experiment(StopTime=4, Interval=0.01),
    __Movrel(recorder={{"source.p"}, {"orifice.q", "capillary.q", "throttle.q", "meter.q"}}));
end FlowCurves;
