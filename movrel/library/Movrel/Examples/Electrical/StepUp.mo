within Movrel.Examples.Electrical;
model StepUp "Two phases lift 12 V to 24 V at half the duty"
  Movrel.Electrical.VoltageSource battery(V=12)
    annotation (Placement(transformation(extent={{-140,-30},{-100,10}}, rotation=-90)));
  Movrel.Signals.Constant half(value=0.5)
    annotation (Placement(transformation(extent={{-80,-120},{-40,-80}})));
  Movrel.Electrical.InterleavedBoost converter(N=2, f=20e3, L=100e-6)
    annotation (Placement(transformation(extent={{0,-30},{40,10}})));
  Movrel.Electrical.Capacitor buffer(C=200e-6, v_start=24)
    annotation (Placement(transformation(extent={{80,-40},{120,0}}, rotation=-90)));
  Movrel.Electrical.Resistor load(R=12)
    annotation (Placement(transformation(extent={{150,-40},{190,0}}, rotation=-90)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{0,-120},{40,-80}})));
equation
  connect(battery.a, converter.a);
  connect(battery.b, ground.a);
  connect(converter.m, ground.a);
  connect(half.y, converter.duty);
  connect(converter.b, buffer.a);
  connect(buffer.b, ground.a);
  connect(converter.b, load.a);
  connect(load.b, ground.a);
  annotation (
    experiment(StopTime=0.004, Interval=2e-06, Tolerance=1e-06),
    __Movrel(recorder={{"buffer.v"}, {"converter.i[1]", "converter.i[2]"}}));
end StepUp;
