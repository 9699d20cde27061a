within Movrel.Examples.Electrical;
model HeatedWinding "A winding that warms up and so takes less current"
  Movrel.Electrical.VoltageSource V(V=12)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}}, rotation=-90)));
  Movrel.Electrical.ResistorWithHeat winding(R=2)
    annotation (Placement(transformation(extent={{100,-20},{140,20}})));
  Movrel.Thermal.HeatCapacity copper(C=50)
    annotation (Placement(transformation(extent={{100,-132},{140,-92}}, rotation=180)));
  Movrel.Thermal.Convection air(h=10, A=0.05)
    annotation (Placement(transformation(extent={{212,-196},{252,-156}})));
  Movrel.Thermal.HeldTemperature room(T(displayUnit="degC")=293.15)
    annotation (Placement(transformation(extent={{324,-196},{364,-156}}, rotation=180)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-212},{20,-172}})));
equation
  connect(V.a, winding.a);
  connect(winding.b, V.b);
  connect(V.b, ground.a);
  connect(winding.heat, copper.a);
  connect(copper.a, air.a);
  connect(air.b, room.b);
  annotation (
    experiment(StopTime=600, Interval=1),
    __Movrel(recorder={{"copper.T"}, {"winding.i"}}));
end HeatedWinding;
