within VarrowQuay;
model RopeLoft "Rope loft: a room that is heated, loses heat through roof and walls, and is ventilated"
  Movrel.Signals.Sine day(amplitude=6, f=1.1574074074074073e-5, offset=281.15, phase(displayUnit="deg")=-1.5707963267948966) "Outdoor air in K, 2 to 14 °C"
    annotation (Placement(transformation(extent={{-108,-156},{-68,-116}})));
  Movrel.Thermal.DrivenTemperature outdoor
    annotation (Placement(transformation(extent={{-20,-156},{20,-116}})));
  Movrel.Signals.HysteresisSwitch thermostat(on=1, off=-1) "Heats when the loft is 1 K too cold"
    annotation (Placement(transformation(extent={{-120,60},{-80,100}})));
  Movrel.Signals.Sum error_(k_2=-1)
    annotation (Placement(transformation(extent={{-192,60},{-152,100}})));
  Movrel.Signals.Constant wanted(value=291.15) "18 °C"
    annotation (Placement(transformation(extent={{-268,60},{-228,100}})));
  Movrel.Signals.Switch stage
    annotation (Placement(transformation(extent={{-40,60},{0,100}})));
  Movrel.Signals.Constant full(value=9000) "Heater on, in W"
    annotation (Placement(transformation(extent={{-120,124},{-80,164}})));
  Movrel.Signals.Constant none(value=0)
    annotation (Placement(transformation(extent={{-120,0},{-80,40}})));
  Movrel.Thermal.DrivenHeat heater
    annotation (Placement(transformation(extent={{36,60},{76,100}})));
  Movrel.Thermal.HeatCapacity loft(C=4.5e6, T_start=288.15) "Air, ropes and timber"
    annotation (Placement(transformation(extent={{116,44},{156,84}})));
  Movrel.Thermal.Thermometer meter
    annotation (Placement(transformation(extent={{116,128},{156,168}}, rotation=180)));
  Movrel.Thermal.Wall roof(A=180, d={0.02, 0.08}, k={0.14, 0.04}) "Boards and insulation"
    annotation (Placement(transformation(extent={{116,-56},{156,-16}}, rotation=90)));
  Movrel.Thermal.Conduction gables(G=60)
    annotation (Placement(transformation(extent={{196,-56},{236,-16}}, rotation=90)));
  Movrel.Thermal.ForcedConvection vents
    annotation (Placement(transformation(extent={{284,-56},{324,-16}}, rotation=90)));
  Movrel.Signals.Constant draught(value=110) "Air change times its heat capacity, in W/K"
    annotation (Placement(transformation(extent={{364,-56},{404,-16}}, rotation=180)));
equation
  connect(day.y, outdoor.T);
  connect(wanted.y, error_.u_1);
  connect(meter.T, error_.u_2);
  connect(error_.y, thermostat.u);
  connect(thermostat.y, stage.condition);
  connect(full.y, stage.u_1);
  connect(none.y, stage.u_2);
  connect(stage.y, heater.Q);
  connect(heater.b, loft.a);
  connect(loft.a, meter.a);
  connect(roof.b, loft.a);
  connect(gables.b, loft.a);
  connect(vents.b, loft.a);
  connect(roof.a, outdoor.b);
  connect(gables.a, outdoor.b);
  connect(vents.a, outdoor.b);
  connect(draught.y, vents.G);
  annotation (
    experiment(StopTime=172800, Interval=60),
    Diagram(graphics={
      Text(extent={{-288,228.8},{424.4,216.8}}, textString="254 W/K in all; at a mean of 8 °C outside and 18 °C inside the heater gives 2540 W on average, 28 %", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>A thermostat with 2 K between on and off keeps the loft dry. Moisture comes later.</p><p>By hand: roof <i>180/(0.02/0.14 + 0.08/0.04) = 84 W/K</i>, gables 60, ventilation 110: together 254 W/K. At 8 °C outside the mean heating is <i>254·10 = 2540 W</i>, 28 % of the heater.</p></html>"),
    __Movrel(claims={"mean(heater.Q, from=1 d) ≈ 2540 W ± 10 %", "min(loft.T, from=12 h) > 15 degC"}, scenarios={Scenario(name="no draught", colour=2, changes={{"draught.value", "30"}})}, recorder={{"loft.T", "outdoor.b.T"}, {"heater.Q"}}));
end RopeLoft;
