within Movrel.Examples.Signals;
model Sources "What the sources of signals give"
  Movrel.Signals.Ramp ramp(height=2, duration=3, offset=1, delay=1)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Signals.Sine sine(amplitude=2, f=0.5, phase(displayUnit="deg")=0.5, offset=1, delay=1)
    annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Signals.Chirp chirp(f_0=0.2, f_1=1, duration=4)
    annotation (Placement(transformation(extent={{140,-20},{180,20}})));
  Movrel.Signals.Noise noise(mean=3, sigma=0.5, period=0.01, seed=7)
    annotation (Placement(transformation(extent={{220,-20},{260,20}})));
  Movrel.Signals.PointTable straight(table=[0, 0; 1, 2; 3, 1])
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.PointTable cyclic(table=[0, 0; 1, 2; 3, 1], cyclic=true, between=Movrel.Signals.Between.hold)
    annotation (Placement(transformation(extent={{60,-100},{100,-60}})));
  Movrel.Signals.PointTable smooth(table=[0, 0; 1, 2; 3, 1], between=Movrel.Signals.Between.smooth, scale=2)
    annotation (Placement(transformation(extent={{140,-100},{180,-60}})));
  Movrel.Signals.SetPointProfile profile(y_start=1, y_end=5, v_max=1.5, a_max=1, delay=0.5)
    annotation (Placement(transformation(extent={{220,-100},{260,-60}})));
  Movrel.Signals.Step step(before=1, after=3, delay=2)
    annotation (Placement(transformation(extent={{-20,-180},{20,-140}})));
  Movrel.Signals.Pulse pulse(height=2, rest=1, width=0.3, period=1, delay=0.25)
    annotation (Placement(transformation(extent={{60,-180},{100,-140}})));
  Movrel.Signals.Constant steady(value=4)
    annotation (Placement(transformation(extent={{140,-180},{180,-140}})));
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"ramp.y", "sine.y", "straight.y", "profile.y"}, {"chirp.y", "noise.y"}}));
end Sources;
