within Movrel.Examples.Thermal;
model Rods "A rod heated at one end, a fin, and a contact that closes"
  Movrel.Thermal.HeldTemperature hot(T=373.15)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Thermal.ConductingRod rod(n=40, l=0.2, A=1e-4, k=50, rho=7800, c=460)
    annotation (Placement(transformation(extent={{92,-20},{132,20}})));
  Movrel.Thermal.HeldTemperature cold(T=293.15)
    annotation (Placement(transformation(extent={{204,-20},{244,20}}, rotation=180)));
  Movrel.Thermal.Fin fin
    annotation (Placement(transformation(extent={{92,-116},{132,-76}})));
  Movrel.Thermal.HeatCapacity block_(C=100)
    annotation (Placement(transformation(extent={{204,-244},{244,-204}})));
  Movrel.Signals.HysteresisSwitch touch(on=50, off=-1)
    annotation (Placement(transformation(extent={{92,-332},{132,-292}})));
  Movrel.Signals.Ramp t(height=200, duration=200)
    annotation (Placement(transformation(extent={{-20,-332},{20,-292}})));
  Movrel.Thermal.Contact contact(G=5)
    annotation (Placement(transformation(extent={{92,-236},{132,-196}})));
  Movrel.Thermal.DrivenTemperature bath
    annotation (Placement(transformation(extent={{-20,-236},{20,-196}})));
  Movrel.Signals.Sine sine(amplitude=10, f=0.01, offset=330)
    annotation (Placement(transformation(extent={{-116,-236},{-76,-196}})));
  Movrel.Thermal.ForcedConvection fan
    annotation (Placement(transformation(extent={{316,-268},{356,-228}})));
  Movrel.Signals.Constant speed(value=3)
    annotation (Placement(transformation(extent={{316,-172},{356,-132}})));
  Movrel.Thermal.LossToHeat loss
    annotation (Placement(transformation(extent={{316,-356},{356,-316}})));
  Movrel.Signals.Constant watts(value=20)
    annotation (Placement(transformation(extent={{212,-372},{252,-332}})));
  Movrel.Thermal.HeldTemperature air(T=293.15)
    annotation (Placement(transformation(extent={{428,-268},{468,-228}}, rotation=180)));
equation
  connect(hot.b, rod.a);
  connect(rod.b, cold.b);
  connect(hot.b, fin.a);
  connect(fin.b, cold.b);
  connect(t.y, touch.u);
  connect(touch.y, contact.touching);
  connect(sine.y, bath.T);
  connect(bath.b, contact.a);
  connect(contact.b, block_.a);
  connect(block_.a, fan.a);
  connect(fan.b, air.b);
  connect(speed.y, fan.G);
  connect(watts.y, loss.loss);
  connect(loss.b, block_.a);
  annotation (
    experiment(StopTime=400, Interval=1, Tolerance=1e-08),
    __Movrel(recorder={{"rod.T[10]", "rod.T[20]", "rod.T[30]"}, {"block_.T"}}));
end Rods;
