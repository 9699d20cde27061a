within Movrel.Examples.Signals;
model Sampled "Parts that work in steps"
  Movrel.Signals.Sine sine(f=0.5)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.SampleHold hold(period=0.1)
    annotation (Placement(transformation(extent={{100,-20},{140,20}})));
  Movrel.Signals.DiscreteIntegrator sum(period=0.1, k=2)
    annotation (Placement(transformation(extent={{100,-100},{140,-60}})));
  Movrel.Signals.DiscreteTransferFunction filter(period=0.1, b={0.2, 0.1}, a={1, -0.7})
    annotation (Placement(transformation(extent={{100,-180},{140,-140}})));
  Movrel.Signals.MovingAverage mean(period=0.1, n=5)
    annotation (Placement(transformation(extent={{100,-260},{140,-220}})));
equation
  connect(sine.y, hold.u);
  connect(sine.y, sum.u);
  connect(sine.y, filter.u);
  connect(sine.y, mean.u);
  annotation (
    experiment(StopTime=4, Interval=0.01),
    __Movrel(recorder={{"sine.y", "hold.y", "filter.y", "mean.y"}, {"sum.y"}}));
end Sampled;
