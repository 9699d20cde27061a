within Movrel.Examples.Electrical;
model Amplifiers "An ideal and a real operational amplifier with gain -10"
  Movrel.Signals.Step u(after=0.5, delay=1e-5)
    annotation (Placement(transformation(extent={{-116,-100},{-76,-60}})));
  Movrel.Electrical.DrivenVoltage source
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}}, rotation=-90)));
  Movrel.Electrical.Resistor R1(R=1e3)
    annotation (Placement(transformation(extent={{76,20},{116,60}})));
  Movrel.Electrical.Resistor R2(R=10e3)
    annotation (Placement(transformation(extent={{188,124},{228,164}})));
  Movrel.Electrical.IdealOpAmp ideal
    annotation (Placement(transformation(extent={{188,20},{228,60}})));
  Movrel.Electrical.Resistor R3(R=1e3)
    annotation (Placement(transformation(extent={{76,-260},{116,-220}})));
  Movrel.Electrical.Resistor R4(R=10e3)
    annotation (Placement(transformation(extent={{188,-156},{228,-116}})));
  Movrel.Electrical.OpAmp real(GBW=1e6, A_0=1e5, R_out=0, R_in=1e9, slew=1e9)
    annotation (Placement(transformation(extent={{188,-260},{228,-220}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-388},{20,-348}})));
equation
  connect(u.y, source.u);
  connect(source.b, ground.a);
  connect(source.a, R1.a);
  connect(R1.b, ideal.n);
  connect(R1.b, R2.a);
  connect(R2.b, ideal.out);
  connect(ideal.p, ground.a);
  connect(source.a, R3.a);
  connect(R3.b, real.n);
  connect(R3.b, R4.a);
  connect(R4.b, real.out);
  connect(real.p, ground.a);
  annotation (
    experiment(StopTime=0.0001, Interval=1e-07, Tolerance=1e-08),
    __Movrel(recorder={{"ideal.out.v", "real.out.v"}}));
end Amplifiers;
