within Movrel.Examples.Signals;
model DigitalLoop "A sampled controller holds a sluggish process at its set point"
  Movrel.Signals.Step wanted(after=1, delay=0.5)
    annotation (Placement(transformation(extent={{-120,-20},{-80,20}})));
  Movrel.Signals.DiscretePI controller(period=0.1, K=2, T_i=1)
    annotation (Placement(transformation(extent={{-30,-30},{10,10}})));
  Movrel.Signals.Lag process(T=1)
    annotation (Placement(transformation(extent={{60,-30},{100,10}})));
equation
  connect(wanted.y, controller.w);
  connect(controller.y, process.u);
  connect(process.y, controller.x);
  annotation (
    experiment(StopTime=8, Interval=0.01),
    __Movrel(recorder={{"wanted.y", "process.y"}, {"controller.y"}}));
end DigitalLoop;
