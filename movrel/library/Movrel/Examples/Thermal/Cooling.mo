within Movrel.Examples.Thermal;
model Cooling "A hot body cools by convection and radiation"
  Movrel.Thermal.HeatCapacity body(C=2000, T_start=373.15)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Thermal.Convection air(h=12, A=0.4)
    annotation (Placement(transformation(extent={{92,-100},{132,-60}})));
  Movrel.Thermal.Radiation sky(A=0.4, eps=0.9)
    annotation (Placement(transformation(extent={{92,-196},{132,-156}})));
  Movrel.Thermal.HeatMeter meter
    annotation (Placement(transformation(extent={{204,-100},{244,-60}})));
  Movrel.Thermal.HeldTemperature room(T=293.15)
    annotation (Placement(transformation(extent={{316,-100},{356,-60}}, rotation=180)));
  Movrel.Thermal.Thermometer sensor
    annotation (Placement(transformation(extent={{92,-20},{132,20}})));
equation
  connect(body.a, air.a);
  connect(body.a, sky.a);
  connect(air.b, meter.a);
  connect(meter.b, room.b);
  connect(sky.b, room.b);
  connect(body.a, sensor.a);
  annotation (
    experiment(StopTime=1800, Interval=5, Tolerance=1e-08),
    __Movrel(recorder={{"sensor.T"}, {"meter.Q", "sky.Q"}}));
end Cooling;
