within Movrel.Examples.Signals;
model StepResponses "How parts with memory answer a step"
  Movrel.Signals.Step step(delay=0.5)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.Lag lag(k=2, T=0.5)
    annotation (Placement(transformation(extent={{100,-20},{140,20}})));
  Movrel.Signals.SecondOrder second(w_0=4, D=0.25)
    annotation (Placement(transformation(extent={{180,-20},{220,20}})));
  Movrel.Signals.TransferFunction transfer(b={1, 3}, a={1, 2, 5})
    annotation (Placement(transformation(extent={{260,-20},{300,20}})));
  Movrel.Signals.ZerosPoles poles(k=5, z_re={-2}, p_re={-1, -1}, p_im={2, -2})
    annotation (Placement(transformation(extent={{340,-20},{380,20}})));
  Movrel.Signals.Integrator integrator(k=0.5)
    annotation (Placement(transformation(extent={{100,-180},{140,-140}})));
  Movrel.Signals.RateLimiter rate(rising=0.5, falling=-0.5)
    annotation (Placement(transformation(extent={{180,-180},{220,-140}})));
  Movrel.Signals.TransportDelay dead(T=0.75)
    annotation (Placement(transformation(extent={{260,-180},{300,-140}})));
  Movrel.Signals.Derivative derivative(T=0.2)
    annotation (Placement(transformation(extent={{340,-180},{380,-140}})));
  Movrel.Signals.StateSpace space(A=[0, 1; -5, -2], B=[0; 1], C=[3, 1], D=[0])
    annotation (Placement(transformation(extent={{460,-100},{500,-60}})));
equation
  connect(step.y, lag.u);
  connect(step.y, second.u);
  connect(step.y, transfer.u);
  connect(step.y, poles.u);
  connect(step.y, integrator.u);
  connect(step.y, rate.u);
  connect(step.y, dead.u);
  connect(step.y, derivative.u);
  connect(step.y, space.u[1]);
  annotation (
    experiment(StopTime=5, Interval=0.01, Tolerance=1e-08),
    __Movrel(recorder={{"step.y", "lag.y", "second.y"}, {"transfer.y", "poles.y", "space.y[1]"}}));
end StepResponses;
