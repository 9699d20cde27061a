within Movrel.Examples.Electrical;
model Rectifiers "Ideal and exponential diodes, a Zener diode, and pulses"
  Movrel.Electrical.AlternatingVoltage source(V_rms=10, f=50)
    annotation (Placement(transformation(extent={{-20,-60},{20,-20}}, rotation=-90)));
  Movrel.Electrical.IdealDiode d1
    annotation (Placement(transformation(extent={{84,-20},{124,20}})));
  Movrel.Electrical.Capacitor C1(C=1e-3)
    annotation (Placement(transformation(extent={{188,-84},{228,-44}}, rotation=-90)));
  Movrel.Electrical.Resistor R1(R=100)
    annotation (Placement(transformation(extent={{292,-84},{332,-44}}, rotation=-90)));
  Movrel.Electrical.Diode d2
    annotation (Placement(transformation(extent={{84,-180},{124,-140}})));
  Movrel.Electrical.Resistor R2(R=1000)
    annotation (Placement(transformation(extent={{188,-220},{228,-180}}, rotation=-90)));
  Movrel.Electrical.Resistor R3(R=100)
    annotation (Placement(transformation(extent={{292,-180},{332,-140}})));
  Movrel.Electrical.Zener z(V_z=5.1, R_z=2)
    annotation (Placement(transformation(extent={{396,-220},{436,-180}}, rotation=90)));
  Movrel.Electrical.RectangularVoltage pulses(V_on=12, V_off=-2, width=4e-3, period=0.01)
    annotation (Placement(transformation(extent={{-20,-324},{20,-284}}, rotation=-90)));
  Movrel.Electrical.Resistor R4(R=10)
    annotation (Placement(transformation(extent={{84,-324},{124,-284}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-436},{20,-396}})));
equation
  connect(source.a, d1.a);
  connect(source.b, ground.a);
  connect(d1.b, C1.a);
  connect(C1.b, ground.a);
  connect(d1.b, R1.a);
  connect(R1.b, ground.a);
  connect(source.a, d2.a);
  connect(d2.b, R2.a);
  connect(R2.b, ground.a);
  connect(source.a, R3.a);
  connect(R3.b, z.b);
  connect(z.a, ground.a);
  connect(pulses.a, R4.a);
  connect(R4.b, ground.a);
  connect(pulses.b, ground.a);
  annotation (
    experiment(StopTime=0.1, Interval=0.0001),
    __Movrel(recorder={{"C1.v", "R2.v", "z.v"}, {"d1.i"}}));
end Rectifiers;
