within Movrel.Examples.Electrical;
model Switching "Switches and transistors with losses"
  Movrel.Electrical.VoltageSource V(V=48)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}}, rotation=-90)));
  Movrel.Electrical.Resistor load(R=4.7)
    annotation (Placement(transformation(extent={{84,-20},{124,20}})));
  Movrel.Electrical.Mosfet fet(R_on=20e-3, E_on=1e-3, E_off=2e-3, V_ref=48, I_ref=10)
    annotation (Placement(transformation(extent={{188,-100},{228,-60}}, rotation=-90)));
  Movrel.Signals.Pulse gate(height=1, width=2e-3, period=5e-3, delay=1e-3)
    annotation (Placement(transformation(extent={{52,-284},{92,-244}})));
  Movrel.Signals.HysteresisSwitch on(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{140,-284},{180,-244}})));
  Movrel.Electrical.Resistor load2(R=4.7)
    annotation (Placement(transformation(extent={{300,-20},{340,20}})));
  Movrel.Electrical.Igbt igbt(V_ce0=0.9, R_ce=15e-3)
    annotation (Placement(transformation(extent={{404,-100},{444,-60}}, rotation=-90)));
  Movrel.Electrical.Resistor load3(R=100)
    annotation (Placement(transformation(extent={{508,-20},{548,20}})));
  Movrel.Electrical.ControlledSwitch contact
    annotation (Placement(transformation(extent={{612,-100},{652,-60}}, rotation=-90)));
  Movrel.Electrical.IdealSwitch late(t_switch=0.008, closed_first=true)
    annotation (Placement(transformation(extent={{716,-20},{756,20}})));
  Movrel.Electrical.CurrentSource sink(I=0.1)
    annotation (Placement(transformation(extent={{820,-100},{860,-60}}, rotation=-90)));
  Movrel.Signals.Constant drive(value=0.02)
    annotation (Placement(transformation(extent={{724,-228},{764,-188}})));
  Movrel.Electrical.DrivenCurrent amp
    annotation (Placement(transformation(extent={{820,-228},{860,-188}}, rotation=-90)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-260},{20,-220}})));
equation
  connect(V.a, load.a);
  connect(load.b, fet.a);
  connect(fet.b, ground.a);
  connect(V.b, ground.a);
  connect(gate.y, on.u);
  connect(on.y, fet.gate);
  connect(on.y, igbt.gate);
  connect(on.y, contact.closed);
  connect(V.a, load2.a);
  connect(load2.b, igbt.a);
  connect(igbt.b, ground.a);
  connect(V.a, load3.a);
  connect(load3.b, contact.a);
  connect(contact.b, ground.a);
  connect(V.a, late.a);
  connect(late.b, sink.a);
  connect(sink.b, ground.a);
  connect(late.b, amp.a);
  connect(amp.b, ground.a);
  connect(drive.y, amp.u);
  annotation (
    experiment(StopTime=0.012, Interval=1e-05),
    __Movrel(recorder={{"fet.i", "igbt.i"}, {"fet.loss", "igbt.loss"}}));
end Switching;
