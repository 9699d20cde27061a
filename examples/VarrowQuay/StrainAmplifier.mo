within VarrowQuay;
model StrainAmplifier "Strain amplifier: active low-pass around an ideal and around a real operational amplifier"
  Movrel.Signals.Step signal(after=0.05, delay=1e-4) "Bridge voltage"
    annotation (Placement(transformation(extent={{-108,-76},{-68,-36}})));
  Movrel.Electrical.DrivenVoltage bridge
    annotation (Placement(transformation(extent={{-20,-76},{20,-36}}, rotation=-90)));
  Movrel.Electrical.Resistor R1(R=1e3)
    annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Electrical.Resistor R2(R=100e3)
    annotation (Placement(transformation(extent={{160,56},{200,96}})));
  Movrel.Electrical.Capacitor C1(C=1e-9)
    annotation (Placement(transformation(extent={{160,124},{200,164}})));
  Movrel.Electrical.IdealOpAmp ideal
    annotation (Placement(transformation(extent={{160,-32},{200,8}})));
  Movrel.Electrical.Voltmeter volts1
    annotation (Placement(transformation(extent={{248,-84},{288,-44}}, rotation=-90)));
  Movrel.Electrical.Resistor R3(R=1e3)
    annotation (Placement(transformation(extent={{328,-20},{368,20}})));
  Movrel.Electrical.Resistor R4(R=100e3)
    annotation (Placement(transformation(extent={{428,56},{468,96}})));
  Movrel.Electrical.Capacitor C2(C=1e-9)
    annotation (Placement(transformation(extent={{428,124},{468,164}})));
  Movrel.Electrical.OpAmp real(GBW=1e6, A_0=2e5, slew=0.5e6, R_in=2e6, R_out=75)
    annotation (Placement(transformation(extent={{428,-32},{468,8}})));
  Movrel.Electrical.Voltmeter volts2
    annotation (Placement(transformation(extent={{512,-84},{552,-44}}, rotation=-90)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-168},{20,-128}})));
equation
  connect(signal.y, bridge.u);
  connect(bridge.b, ground.a);
  connect(bridge.a, R1.a);
  connect(R1.b, ideal.n);
  connect(ideal.n, R2.a);
  connect(R2.b, ideal.out);
  connect(ideal.n, C1.a);
  connect(C1.b, ideal.out);
  connect(ideal.p, ground.a);
  connect(bridge.a, R3.a);
  connect(R3.b, real.n);
  connect(real.n, R4.a);
  connect(R4.b, real.out);
  connect(real.n, C2.a);
  connect(C2.b, real.out);
  connect(real.p, ground.a);
  connect(ideal.out, volts1.a);
  connect(volts1.b, ground.a);
  connect(real.out, volts2.a);
  connect(volts2.b, ground.a);
  annotation (
    experiment(StopTime=0.001, Interval=1e-06, Tolerance=1e-08),
    Diagram(graphics={
      Text(extent={{-126.8,222.6},{573.2,210.6}}, textString="Gain -R2/R1 = -100, corner 1/(2 pi R2 C1) = 1.59 kHz: 50 mV become -5 V with 100 µs", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The voltage of a strain gauge bridge is amplified by -100 and smoothed.</p><p>By hand: gain <i>-R2/R1 = -100</i>, corner frequency <i>1/(2 π R2 C1) = 1.59 kHz</i>, so 50 mV become -5 V with a time constant of 100 µs. The real amplifier with 1 MHz gain-bandwidth adds a lag of about <i>(1 + R2/R1)/(2 π GBW) = 16 µs</i> at the beginning and loses <i>101/A_0 = 0.05 %</i>.</p></html>"),
    __Movrel(claims={"final(volts1.v) ≈ -5 V ± 0.1 %", "final(volts2.v) ≈ final(volts1.v) ± 0.1 %", "rise(volts1.v) ≈ 2.197*100 us ± 2 %"}, scenarios={Scenario(name="faster amplifier", colour=2, changes={{"real.GBW", "1e7"}})}, recorder={{"volts1.y", "volts2.y"}}));
end StrainAmplifier;
