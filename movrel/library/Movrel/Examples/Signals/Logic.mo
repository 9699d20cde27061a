within Movrel.Examples.Signals;
model Logic "Switching"
  Movrel.Signals.Sine sine(f=1)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.HysteresisSwitch on(on=0.5, off=-0.5)
    annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Signals.HysteresisSwitch high(on=0.8, off=0.7)
    annotation (Placement(transformation(extent={{60,-180},{100,-140}})));
  Movrel.Signals.And both
    annotation (Placement(transformation(extent={{140,-20},{180,20}})));
  Movrel.Signals.Or either
    annotation (Placement(transformation(extent={{140,-100},{180,-60}})));
  Movrel.Signals.Not off
    annotation (Placement(transformation(extent={{140,-180},{180,-140}})));
  Movrel.Signals.Latch latch
    annotation (Placement(transformation(extent={{220,-180},{260,-140}})));
  Movrel.Signals.OnDelay timer(T=0.2)
    annotation (Placement(transformation(extent={{220,-20},{260,20}})));
  Movrel.Signals.Edge edge
    annotation (Placement(transformation(extent={{220,-100},{260,-60}})));
  Movrel.Signals.Switch switch
    annotation (Placement(transformation(extent={{340,-100},{380,-60}})));
  Movrel.Signals.Constant a(value=2)
    annotation (Placement(transformation(extent={{220,60},{260,100}})));
  Movrel.Signals.Constant b(value=-1)
    annotation (Placement(transformation(extent={{220,-260},{260,-220}})));
equation
  connect(sine.y, on.u);
  connect(sine.y, high.u);
  connect(on.y, both.u_1);
  connect(high.y, both.u_2);
  connect(on.y, either.u_1);
  connect(high.y, either.u_2);
  connect(on.y, off.u);
  connect(high.y, latch.set);
  connect(off.y, latch.reset);
  connect(on.y, timer.u);
  connect(on.y, edge.u);
  connect(latch.y, switch.condition);
  connect(a.y, switch.u_1);
  connect(b.y, switch.u_2);
  annotation (
    experiment(StopTime=3, Interval=0.005),
    __Movrel(recorder={{"sine.y", "switch.y"}}));
end Logic;
