within VarrowQuay;
model OilCoolerThree "The oil cooler as three lumps: oil, tubes and shell"
  Movrel.Thermal.HeatCapacity oil(C=84e3, T_start=353.15) "42 kg of oil"
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Thermal.Convection film(h=120, A=1.8) "Oil to tubes"
    annotation (Placement(transformation(extent={{56,-84},{96,-44}})));
  Movrel.Thermal.HeatCapacity tubes(C=9e3, T_start=353.15) "Tubes"
    annotation (Placement(transformation(extent={{128,-20},{168,20}})));
  Movrel.Thermal.Conduction bond(G=150) "Tubes to shell"
    annotation (Placement(transformation(extent={{204,-84},{244,-44}})));
  Movrel.Thermal.HeatCapacity shell(C=15e3, T_start=343.15) "Shell"
    annotation (Placement(transformation(extent={{276,-20},{316,20}})));
  Movrel.Thermal.Convection skin(h=25, A=1.4) "Shell to the air"
    annotation (Placement(transformation(extent={{352,-84},{392,-44}})));
  Movrel.Thermal.HeldTemperature air(T=288.15) "Workshop"
    annotation (Placement(transformation(extent={{440,-84},{480,-44}}, rotation=180)));
equation
  connect(oil.a, film.a);
  connect(film.b, tubes.a);
  connect(tubes.a, bond.a);
  connect(bond.b, shell.a);
  connect(shell.a, skin.a);
  connect(skin.b, air.b);
  annotation (
    experiment(StopTime=7200, Interval=10, Tolerance=1e-08),
    Diagram(graphics={
      Text(extent={{-40,80},{498.8,68}}, textString="Slowest time constant of the three balances: 3954 s", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>Oil, tubes and shell have temperatures of their own.</p><p>By hand: late in the cool-down the three fall together; the slowest eigenvalue of the three balances gives a time constant of 3954 s, against 2400 s for one lump of the same oil: the film, the tubes and the shell are in the way.</p></html>"),
    __Movrel(recorder={{"oil.T", "tubes.T", "shell.T"}, {"skin.Q"}}));
end OilCoolerThree;
