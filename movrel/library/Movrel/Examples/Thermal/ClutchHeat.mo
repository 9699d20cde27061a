within Movrel.Examples.Thermal;
model ClutchHeat "A slipping clutch warms its disc, which the air cools"
  Movrel.Rotational.Inertia flywheel(J=0.5, w_start=100)
    annotation (Placement(transformation(extent={{-160,-20},{-120,20}})));
  Movrel.Rotational.Clutch clutch(tau_max=20, heated=true)
    annotation (Placement(transformation(extent={{-60,-20},{-20,20}})));
  Movrel.Rotational.Inertia load(J=2)
    annotation (Placement(transformation(extent={{40,-20},{80,20}})));
  Movrel.Signals.Ramp engage(duration=0.5, delay=1)
    annotation (Placement(transformation(extent={{-160,80},{-120,120}})));
  Movrel.Thermal.HeatCapacity disc(C=400)
    annotation (Placement(transformation(extent={{-140,-112},{-100,-72}})));
  Movrel.Thermal.Convection air(h=30, A=0.1)
    annotation (Placement(transformation(extent={{40,-140},{80,-100}})));
  Movrel.Thermal.HeldTemperature hall(T=293.15)
    annotation (Placement(transformation(extent={{140,-140},{180,-100}}, rotation=180)));
equation
  connect(flywheel.b, clutch.a);
  connect(clutch.b, load.a);
  connect(engage.y, clutch.u);
  connect(clutch.heat, air.a);
  connect(disc.a, air.a);
  connect(air.b, hall.b);
  annotation (
    experiment(StopTime=20, Interval=0.02, Tolerance=1e-08),
    __Movrel(recorder={{"flywheel.w", "load.w"}, {"clutch.loss"}, {"disc.T"}}));
end ClutchHeat;
