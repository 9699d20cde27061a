within Movrel.Examples.Electrical;
model StepDown "Three phases bring 48 V down to 12 V at a quarter of the duty"
  Movrel.Electrical.VoltageSource supply(V=48)
    annotation (Placement(transformation(extent={{-154.4,-77.6},{-114.4,-37.6}}, rotation=-90)));
  Movrel.Signals.Constant quarter(value=0.25)
    annotation (Placement(transformation(extent={{-135.2,76},{-95.2,116}})));
  Movrel.Electrical.InterleavedBuck converter(N=3, f=20e3, L=200e-6)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Electrical.Capacitor buffer(C=200e-6, v_start=12)
    annotation (Placement(transformation(extent={{114.4,-96.8},{154.4,-56.8}}, rotation=-90)));
  Movrel.Electrical.Resistor load(R=2)
    annotation (Placement(transformation(extent={{210.4,-96.8},{250.4,-56.8}}, rotation=-90)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-231.2},{20,-191.2}})));
equation
  connect(supply.a, converter.a);
  connect(supply.b, ground.a);
  connect(converter.m, ground.a);
  connect(quarter.y, converter.duty);
  connect(converter.b, buffer.a);
  connect(buffer.b, ground.a);
  connect(converter.b, load.a);
  connect(load.b, ground.a);
  annotation (
    experiment(StopTime=0.004, Interval=2e-06, Tolerance=1e-06),
    __Movrel(recorder={{"buffer.v"}, {"converter.i[1]", "converter.i[2]", "converter.i[3]"}}));
end StepDown;
