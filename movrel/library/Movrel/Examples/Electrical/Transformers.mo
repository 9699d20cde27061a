within Movrel.Examples.Electrical;
model Transformers "Coupled coils and an ideal transformer"
  Movrel.Electrical.AlternatingVoltage source(V_rms=10, f=50)
    annotation (Placement(transformation(extent={{-20,-60},{20,-20}}, rotation=-90)));
  Movrel.Electrical.CoupledInductors coils(L1=0.1, L2=0.4, k=0.8)
    annotation (Placement(transformation(extent={{100,-60},{140,-20}})));
  Movrel.Electrical.Resistor R2(R=50)
    annotation (Placement(transformation(extent={{220,-60},{260,-20}}, rotation=-90)));
  Movrel.Electrical.IdealTransformer ideal(n=5)
    annotation (Placement(transformation(extent={{100,-260},{140,-220}})));
  Movrel.Electrical.Resistor R3(R=2)
    annotation (Placement(transformation(extent={{220,-260},{260,-220}}, rotation=-90)));
  Movrel.Electrical.Wattmeter watt
    annotation (Placement(transformation(extent={{4,-196},{44,-156}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-100,-380},{-60,-340}})));
equation
  connect(source.a, coils.a1);
  connect(source.b, coils.b1);
  connect(coils.a2, R2.a);
  connect(coils.b2, R2.b);
  connect(source.b, ground.a);
  connect(coils.b2, ground.a);
  connect(source.a, watt.a);
  connect(watt.b, ideal.a1);
  connect(watt.c, ground.a);
  connect(ideal.b1, ground.a);
  connect(ideal.a2, R3.a);
  connect(ideal.b2, R3.b);
  connect(ideal.b2, ground.a);
  annotation (
    experiment(StopTime=0.2, Interval=0.0001, Tolerance=1e-09),
    __Movrel(recorder={{"R2.v", "R3.v"}, {"watt.P"}}));
end Transformers;
