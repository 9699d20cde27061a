within Movrel.Examples.Electrical;
model ResonantCircuit "A charged capacitor discharges through a coil and a resistor"
  Movrel.Electrical.Capacitor C(C=100e-6, v_start=10)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}}, rotation=-90)));
  Movrel.Electrical.Inductor L(L=10e-3)
    annotation (Placement(transformation(extent={{84,-20},{124,20}})));
  Movrel.Electrical.Resistor R(R=2)
    annotation (Placement(transformation(extent={{188,-20},{228,20}})));
  Movrel.Electrical.Ammeter meter
    annotation (Placement(transformation(extent={{292,-20},{332,20}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-196},{20,-156}})));
  Movrel.Electrical.Voltmeter volts
    annotation (Placement(transformation(extent={{-124,-100},{-84,-60}}, rotation=-90)));
equation
  connect(C.a, L.a);
  connect(L.b, R.a);
  connect(R.b, meter.a);
  connect(meter.b, C.b);
  connect(C.b, ground.a);
  connect(C.a, volts.a);
  connect(C.b, volts.b);
  annotation (
    experiment(StopTime=0.04, Interval=1e-05, Tolerance=1e-09),
    __Movrel(recorder={{"volts.y"}, {"meter.y"}}));
end ResonantCircuit;
