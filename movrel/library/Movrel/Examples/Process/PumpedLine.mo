within Movrel.Examples.Process;
model PumpedLine "A pump fills an upper tank through a pipe, a check valve and a control valve"
  Movrel.Process.Basin sump(area=50, level_start=1, height=2)
    annotation (Placement(transformation(extent={{-20,-180},{20,-140}})));
  Movrel.Signals.Step speed(before=152, after=120, delay=300)
    annotation (Placement(transformation(extent={{92,-92},{132,-52}})));
  Movrel.Process.Pump pump
    annotation (Placement(transformation(extent={{92,-196},{132,-156}})));
  Movrel.Process.CheckValve flap
    annotation (Placement(transformation(extent={{204,-196},{244,-156}})));
  Movrel.Process.FlowMeter meter
    annotation (Placement(transformation(extent={{300,-196},{340,-156}})));
  Movrel.Process.Pipe pipe(l=80, d=0.1, rise=5, zeta=4)
    annotation (Placement(transformation(extent={{396,-196},{436,-156}})));
  Movrel.Signals.Constant lift(value=0.7)
    annotation (Placement(transformation(extent={{508,-92},{548,-52}})));
  Movrel.Process.Valve valve(K_v=60, characteristic=Movrel.Process.Characteristic.equal_percentage)
    annotation (Placement(transformation(extent={{508,-196},{548,-156}})));
  Movrel.Process.Overflow upper(area=4, edge=1.5, width=0.4)
    annotation (Placement(transformation(extent={{620,-172},{660,-132}})));
  Movrel.Process.Outfall back
    annotation (Placement(transformation(extent={{748,-164},{788,-124}})));
  Movrel.Process.PressureGauge pressure
    annotation (Placement(transformation(extent={{300,-308},{340,-268}})));
equation
  connect(sump.outlet, pump.a);
  connect(speed.y, pump.w);
  connect(pump.b, flap.a);
  connect(flap.b, meter.a);
  connect(meter.b, pipe.a);
  connect(pipe.b, valve.a);
  connect(lift.y, valve.lift);
  connect(valve.b, upper.inlet);
  connect(upper.over, back.port);
  connect(pump.b, pressure.a);
  annotation (
    experiment(StopTime=600, Interval=1),
    __Movrel(recorder={{"upper.level", "sump.level"}, {"pipe.q", "upper.q_over"}}));
end PumpedLine;
