within Movrel.Examples.Signals;
model ControlLoops "A PI and a PID controller with a limited output, each with a plant"
  Movrel.Signals.Step set(after=1, delay=0.2)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.PI pi(K=4, T_i=0.8, y_max=1.5, y_min=0, T_t=0.4)
    annotation (Placement(transformation(extent={{60,-20},{100,20}})));
  Movrel.Signals.Lag plant(T=1)
    annotation (Placement(transformation(extent={{180,-20},{220,20}})));
  Movrel.Signals.PID pid(K=6, T_i=1.5, T_d=0.2, N=10, y_max=3, y_min=-3, T_t=0.5)
    annotation (Placement(transformation(extent={{60,-180},{100,-140}})));
  Movrel.Signals.SecondOrder plant2(w_0=1, D=1)
    annotation (Placement(transformation(extent={{180,-180},{220,-140}})));
  Movrel.Signals.Statistics watch
    annotation (Placement(transformation(extent={{300,-180},{340,-140}})));
equation
  connect(set.y, pi.w);
  connect(pi.y, plant.u);
  connect(plant.y, pi.x);
  connect(set.y, pid.w);
  connect(pid.y, plant2.u);
  connect(plant2.y, pid.x);
  connect(plant2.y, watch.u);
  annotation (
    experiment(StopTime=8, Interval=0.01, Tolerance=1e-08),
    __Movrel(recorder={{"set.y", "plant.y", "plant2.y"}, {"pi.y", "pid.y"}}));
end ControlLoops;
