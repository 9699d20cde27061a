within Movrel.Examples.Pneumatics;
model SuctionGripper "A cup is drawn empty, keeps its vacuum, and lets go"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-212,133.6},{-172,173.6}})));
  Movrel.Pneumatics.VacuumSource ejector
    annotation (Placement(transformation(extent={{-116,-192.8},{-76,-152.8}})));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{114.4,-192.8},{154.4,-152.8}}, rotation=180)));
  Movrel.Signals.Pulse grip_pulse(height=1, width=2, period=100, delay=0.5)
    annotation (Placement(transformation(extent={{-212,-77.6},{-172,-37.6}})));
  Movrel.Signals.HysteresisSwitch grip(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{-116,-77.6},{-76,-37.6}})));
  Movrel.Pneumatics.Valve32 valve(C=1e-8)
    annotation (Placement(transformation(extent={{-0.8,-77.6},{39.2,-37.6}})));
  Movrel.Pneumatics.Restriction hose(C=1e-8)
    annotation (Placement(transformation(extent={{-0.8,47.2},{39.2,87.2}}, rotation=90)));
  Movrel.Pneumatics.Chamber cup(V_0=5e-5, G=0.02)
    annotation (Placement(transformation(extent={{-0.8,143.2},{39.2,183.2}}, rotation=90)));
  Movrel.Pneumatics.Restriction seal(C=2e-11)
    annotation (Placement(transformation(extent={{114.4,143.2},{154.4,183.2}})));
  Movrel.Pneumatics.Atmosphere room
    annotation (Placement(transformation(extent={{210.4,143.2},{250.4,183.2}})));
equation
  connect(ejector.port, valve.P);
  connect(outside.port, valve.R);
  connect(grip_pulse.y, grip.u);
  connect(grip.y, valve.on);
  connect(valve.A, hose.a);
  connect(hose.b, cup.a);
  connect(cup.c, seal.a);
  connect(seal.b, room.port);
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"cup.p"}, {"cup.T"}}));
end SuctionGripper;
