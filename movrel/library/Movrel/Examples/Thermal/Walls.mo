within Movrel.Examples.Thermal;
model Walls "A heated room behind a wall, a tube and a bridge"
  Movrel.Signals.Constant power(value=500)
    annotation (Placement(transformation(extent={{-116,-100},{-76,-60}})));
  Movrel.Thermal.DrivenHeat heater
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Thermal.HeatCapacity room(C=2e5, T_start=288.15)
    annotation (Placement(transformation(extent={{-20,12},{20,52}})));
  Movrel.Thermal.Wall wall(A=10, d={0.2, 0.1}, k={0.8, 0.04})
    annotation (Placement(transformation(extent={{108,-20},{148,20}})));
  Movrel.Thermal.CylinderWall tube(l=2, r_a=0.02, r_b=0.05, k=0.04)
    annotation (Placement(transformation(extent={{108,-116},{148,-76}})));
  Movrel.Thermal.Conduction bridge(G=2)
    annotation (Placement(transformation(extent={{108,-212},{148,-172}})));
  Movrel.Thermal.Resistance joint(R=0.5)
    annotation (Placement(transformation(extent={{220,-212},{260,-172}})));
  Movrel.Thermal.HeldTemperature outside(T=273.15)
    annotation (Placement(transformation(extent={{348,-116},{388,-76}}, rotation=180)));
equation
  connect(power.y, heater.Q);
  connect(heater.b, room.a);
  connect(room.a, wall.a);
  connect(room.a, tube.a);
  connect(room.a, bridge.a);
  connect(bridge.b, joint.a);
  connect(wall.b, outside.b);
  connect(tube.b, outside.b);
  connect(joint.b, outside.b);
  annotation (
    experiment(StopTime=400000, Interval=500, Tolerance=1e-08),
    __Movrel(recorder={{"room.T"}, {"wall.Q", "tube.Q", "joint.Q"}}));
end Walls;
