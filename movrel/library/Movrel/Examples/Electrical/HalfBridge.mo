within Movrel.Examples.Electrical;
model HalfBridge "A bridge leg with pulse-width modulation feeds a coil"
  Movrel.Electrical.VoltageSource V(V=48)
    annotation (Placement(transformation(extent={{-20,-116},{20,-76}}, rotation=-90)));
  Movrel.Signals.Constant duty(value=0.6)
    annotation (Placement(transformation(extent={{-4,28},{36,68}})));
  Movrel.Electrical.PwmGenerator pwm(f=20e3, dead=1e-6)
    annotation (Placement(transformation(extent={{92,28},{132,68}})));
  Movrel.Electrical.BridgeLeg leg
    annotation (Placement(transformation(extent={{204,-116},{244,-76}})));
  Movrel.Electrical.Inductor L(L=1e-3)
    annotation (Placement(transformation(extent={{316,-116},{356,-76}})));
  Movrel.Electrical.Resistor R(R=5)
    annotation (Placement(transformation(extent={{412,-116},{452,-76}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{204,-260},{244,-220}})));
equation
  connect(V.a, leg.plus);
  connect(V.b, leg.minus);
  connect(V.b, ground.a);
  connect(duty.y, pwm.duty);
  connect(pwm.high, leg.high);
  connect(pwm.low, leg.low);
  connect(leg.mid, L.a);
  connect(L.b, R.a);
  connect(R.b, ground.a);
  annotation (
    experiment(StopTime=0.002, Interval=1e-06),
    __Movrel(recorder={{"L.i"}, {"leg.mid.v"}}));
end HalfBridge;
