within Movrel.Examples.Signals;
model Arithmetic "Operations without memory"
  Movrel.Signals.Sine u(amplitude=2, f=0.25)
    annotation (Placement(transformation(extent={{-20,-100},{20,-60}})));
  Movrel.Signals.Constant w(value=-0.5)
    annotation (Placement(transformation(extent={{-20,-180},{20,-140}})));
  Movrel.Signals.Gain gain(k=3)
    annotation (Placement(transformation(extent={{100,20},{140,60}})));
  Movrel.Signals.Power power(n=3)
    annotation (Placement(transformation(extent={{180,20},{220,60}})));
  Movrel.Signals.Function1 root(f=Movrel.Signals.Elementary.tanh)
    annotation (Placement(transformation(extent={{260,20},{300,60}})));
  Movrel.Signals.Absolute absolute
    annotation (Placement(transformation(extent={{340,20},{380,60}})));
  Movrel.Signals.UnitChange change(factor=1.8, offset=32)
    annotation (Placement(transformation(extent={{100,-140},{140,-100}})));
  Movrel.Signals.Limiter limiter(y_max=1.5, y_min=-0.5)
    annotation (Placement(transformation(extent={{180,-140},{220,-100}})));
  Movrel.Signals.DeadBand band(u_max=0.5, u_min=-1)
    annotation (Placement(transformation(extent={{260,-140},{300,-100}})));
  Movrel.Signals.Quantiser quantiser(q=0.25)
    annotation (Placement(transformation(extent={{340,-140},{380,-100}})));
  Movrel.Signals.Product product
    annotation (Placement(transformation(extent={{100,-276},{140,-236}})));
  Movrel.Signals.Division division(least=0.75)
    annotation (Placement(transformation(extent={{180,-276},{220,-236}})));
  Movrel.Signals.Minimum least
    annotation (Placement(transformation(extent={{260,-276},{300,-236}})));
  Movrel.Signals.Maximum largest
    annotation (Placement(transformation(extent={{340,-276},{380,-236}})));
  Movrel.Signals.SumN total(n=3, sign={Movrel.Signals.Sign.add, Movrel.Signals.Sign.subtract, Movrel.Signals.Sign.add})
    annotation (Placement(transformation(extent={{460,-100},{500,-60}})));
  Movrel.Signals.Sum sum(k_2=-1)
    annotation (Placement(transformation(extent={{460,-196},{500,-156}})));
equation
  connect(u.y, gain.u);
  connect(u.y, power.u);
  connect(u.y, root.u);
  connect(u.y, absolute.u);
  connect(u.y, change.u);
  connect(u.y, limiter.u);
  connect(u.y, band.u);
  connect(u.y, quantiser.u);
  connect(u.y, product.u_1);
  connect(w.y, product.u_2);
  connect(u.y, division.u_1);
  connect(w.y, division.u_2);
  connect(u.y, least.u_1);
  connect(w.y, least.u_2);
  connect(u.y, largest.u_1);
  connect(w.y, largest.u_2);
  connect(gain.y, total.u[1]);
  connect(absolute.y, total.u[2]);
  connect(w.y, total.u[3]);
  connect(u.y, sum.u_1);
  connect(w.y, sum.u_2);
  annotation (
    experiment(StopTime=4, Interval=0.01),
    __Movrel(recorder={{"u.y", "limiter.y", "band.y", "quantiser.y"}, {"power.y", "division.y"}}));
end Arithmetic;
