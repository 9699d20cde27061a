within Movrel.Examples.Signals;
model LookUps "Tables, lengths, means and comparisons"
  Movrel.Signals.Clock clock
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Signals.LookUp curve(table=[0, 0; 1, 1; 2, 4; 4, 16], smooth=true)
    annotation (Placement(transformation(extent={{-116,172},{-76,212}})));
  Movrel.Signals.NumberDisplay reading
    annotation (Placement(transformation(extent={{-20,229.6},{20,269.6}})));
  Movrel.Signals.Sine x(f=1)
    annotation (Placement(transformation(extent={{-212,18.4},{-172,58.4}})));
  Movrel.Signals.Sine y(f=1, phase=1.5707963267948966)
    annotation (Placement(transformation(extent={{-212,-77.6},{-172,-37.6}})));
  Movrel.Signals.VectorLength length(n=2)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Signals.LookUp2 map(table=[0, 0, 2; 0, 0, 2; 4, 4, 6])
    annotation (Placement(transformation(extent={{-0.8,76},{39.2,116}})));
  Movrel.Signals.Comparison above(band=0.1)
    annotation (Placement(transformation(extent={{-0.8,-77.6},{39.2,-37.6}})));
  Movrel.Signals.Product square
    annotation (Placement(transformation(extent={{-116,-154.4},{-76,-114.4}})));
  Movrel.Signals.PeriodMean power(period=1)
    annotation (Placement(transformation(extent={{-0.8,-173.6},{39.2,-133.6}})));
equation
  connect(clock.y, curve.u);
  connect(curve.y, reading.u);
  connect(x.y, length.u[1]);
  connect(y.y, length.u[2]);
  connect(clock.y, map.u_1);
  connect(length.y, map.u_2);
  connect(x.y, above.u_1);
  connect(y.y, above.u_2);
  connect(x.y, square.u_1);
  connect(x.y, square.u_2);
  connect(square.y, power.u);
  annotation (
    experiment(StopTime=4, Interval=0.005),
    __Movrel(recorder={{"curve.y", "map.y"}, {"length.y", "power.y"}, {"above.y"}}));
end LookUps;
