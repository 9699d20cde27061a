within Movrel.Examples.Signals;
model Stops "Integrals between limits"
  Movrel.Signals.Step push(before=2, after=-1, delay=1.5)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.DoubleIntegrator body(x_max=1, x_min=-0.5, e=0.5)
    annotation (Placement(transformation(extent={{100,-20},{140,20}})));
  Movrel.Signals.HysteresisSwitch reset(on=0.5, off=-0.5)
    annotation (Placement(transformation(extent={{-20,-260},{20,-220}})));
  Movrel.Signals.Ramp saw(height=4, duration=4, offset=-3)
    annotation (Placement(transformation(extent={{-140,-260},{-100,-220}})));
  Movrel.Signals.LimitedIntegrator limited(y_max=1, y_min=-0.25, y_start=0.5)
    annotation (Placement(transformation(extent={{100,-180},{140,-140}})));
equation
  connect(push.y, body.u);
  connect(push.y, limited.u);
  connect(saw.y, reset.u);
  connect(reset.y, limited.reset);
  annotation (
    experiment(StopTime=9, Interval=0.01, Tolerance=1e-08),
    __Movrel(recorder={{"body.y", "limited.y"}, {"body.v"}}));
end Stops;
