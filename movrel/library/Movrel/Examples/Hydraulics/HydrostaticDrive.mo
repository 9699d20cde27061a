within Movrel.Examples.Hydraulics;
model HydrostaticDrive "A driven pump turns a motor in a closed circuit"
  Movrel.Signals.Constant speed(value=150)
    annotation (Placement(transformation(extent={{-231.2,-20},{-191.2,20}})));
  Movrel.Rotational.DrivenSpeed engine
    annotation (Placement(transformation(extent={{-135.2,-20},{-95.2,20}})));
  Movrel.Signals.Ramp stroke(height=1, duration=2, delay=0.5)
    annotation (Placement(transformation(extent={{-135.2,76},{-95.2,116}})));
  Movrel.Hydraulics.DrivenPump pump(D=28e-6)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Hydraulics.Chamber high(V=5e-4)
    annotation (Placement(transformation(extent={{76,133.6},{116,173.6}})));
  Movrel.Hydraulics.Chamber low(V=5e-4, p_start=10e5)
    annotation (Placement(transformation(extent={{76,-135.2},{116,-95.2}}, rotation=180)));
  Movrel.Hydraulics.HeldPressure charge(p_0=10e5)
    annotation (Placement(transformation(extent={{-135.2,-192.8},{-95.2,-152.8}})));
  Movrel.Hydraulics.CheckValve feed(p_open=0.2e5)
    annotation (Placement(transformation(extent={{-20,-192.8},{20,-152.8}})));
  Movrel.Hydraulics.ReliefValve relief(p_set=200e5)
    annotation (Placement(transformation(extent={{114.4,-0.8},{154.4,39.2}}, rotation=-90)));
  Movrel.Hydraulics.ReliefValve flushing(p_set=14e5)
    annotation (Placement(transformation(extent={{172,-192.8},{212,-152.8}}, rotation=-90)));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{172,-288.8},{212,-248.8}})));
  Movrel.Hydraulics.Motor motor(D=45e-6)
    annotation (Placement(transformation(extent={{229.6,-20},{269.6,20}}, rotation=180)));
  Movrel.Rotational.Inertia load(J=2)
    annotation (Placement(transformation(extent={{344.8,-20},{384.8,20}})));
  Movrel.Rotational.Bearing drag(d=0.8)
    annotation (Placement(transformation(extent={{440.8,-20},{480.8,20}})));
  Movrel.Hydraulics.DrivenMotor fan(D=10e-6)
    annotation (Placement(transformation(extent={{229.6,210.4},{269.6,250.4}}, rotation=180)));
  Movrel.Signals.Constant opened(value=0.5)
    annotation (Placement(transformation(extent={{344.8,325.6},{384.8,365.6}}, rotation=180)));
  Movrel.Rotational.Inertia blades(J=0.05)
    annotation (Placement(transformation(extent={{344.8,210.4},{384.8,250.4}})));
  Movrel.Rotational.Bearing air(d=0.05)
    annotation (Placement(transformation(extent={{440.8,210.4},{480.8,250.4}})));
equation
  connect(speed.y, engine.w);
  connect(engine.b, pump.shaft);
  connect(stroke.y, pump.x);
  connect(pump.b, high.port);
  connect(pump.a, low.port);
  connect(charge.port, feed.a);
  connect(feed.b, low.port);
  connect(low.port, flushing.a);
  connect(flushing.b, tank.port);
  connect(high.port, relief.a);
  connect(relief.b, low.port);
  connect(high.port, motor.a);
  connect(motor.b, low.port);
  connect(motor.shaft, load.a);
  connect(load.b, drag.a);
  connect(high.port, fan.a);
  connect(fan.b, low.port);
  connect(opened.y, fan.x);
  connect(fan.shaft, blades.a);
  connect(blades.b, air.a);
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"load.w", "blades.w"}, {"high.p", "low.p"}}));
end HydrostaticDrive;
