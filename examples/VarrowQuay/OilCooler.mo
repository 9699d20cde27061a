within VarrowQuay;
model OilCooler "Oil cooler as one lump that cools down"
  Movrel.Thermal.HeatCapacity oil(C=84e3, T_start=353.15) "42 kg of oil"
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Thermal.Convection shell(h=25, A=1.4) "Shell to the air"
    annotation (Placement(transformation(extent={{72,-84},{112,-44}})));
  Movrel.Thermal.HeldTemperature air(T=288.15) "Workshop"
    annotation (Placement(transformation(extent={{164,-84},{204,-44}}, rotation=180)));
  Movrel.Thermal.Thermometer gauge
    annotation (Placement(transformation(extent={{72,-8},{112,32}})));
equation
  connect(oil.a, shell.a);
  connect(shell.b, air.b);
  connect(oil.a, gauge.a);
  annotation (
    experiment(StopTime=7200, Interval=10, Tolerance=1e-08),
    Diagram(graphics={
      Text(extent={{-40,92.4},{226,80.4}}, textString="Time constant C/(h A) = 2400 s; after it 15 + 65/e = 38.9 °C", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>One temperature for all of the oil.</p><p>By hand: time constant <i>C/(h A) = 84e3/35 = 2400 s</i>; after one of them the oil is at <i>15 + 65/e = 38.9 °C</i>.</p></html>"),
    __Movrel(claims={"crossing(oil.T, 38.9 degC) ≈ 2400 s ± 1 %"}, recorder={{"oil.T"}, {"shell.Q"}}));
end OilCooler;
