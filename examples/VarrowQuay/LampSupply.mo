within VarrowQuay;
model LampSupply "Supply of the quay lamps: interleaved boost converter with a current loop inside a voltage loop"
  Movrel.Electrical.VoltageSource battery(V=24) "Battery"
    annotation (Placement(transformation(extent={{-20,-120},{20,-80}}, rotation=-90)));
  Movrel.Electrical.InterleavedBoost converter(N=4, f=100e3, L=100e-6, R_L=10e-3, R_on=5e-3)
    annotation (Placement(transformation(extent={{72,-92},{128,-36}})));
  Movrel.Electrical.Capacitor buffer(C=100e-6, v_start=48)
    annotation (Placement(transformation(extent={{172,-120},{212,-80}}, rotation=-90)));
  Movrel.Electrical.Resistor lamps(R=19.2) "Half of the lamps"
    annotation (Placement(transformation(extent={{248,-120},{288,-80}}, rotation=-90)));
  Movrel.Electrical.IdealSwitch more(t_switch=2.5e-3) "The other half"
    annotation (Placement(transformation(extent={{316,-76},{356,-36}})));
  Movrel.Electrical.Resistor others(R=19.2)
    annotation (Placement(transformation(extent={{384,-120},{424,-80}}, rotation=-90)));
  Movrel.Electrical.Voltmeter volts
    annotation (Placement(transformation(extent={{452,-120},{492,-80}}, rotation=-90)));
  Movrel.Electrical.Ammeter amps
    annotation (Placement(transformation(extent={{12,-28},{52,12}})));
  Movrel.Signals.Constant wanted(value=48)
    annotation (Placement(transformation(extent={{-232,-204},{-192,-164}})));
  Movrel.Signals.DiscretePI voltage_loop(period=50e-6, K=1, T_i=0.6e-3, y_max=16, y_min=0.1, y_start=5)
    annotation (Placement(transformation(extent={{-156,-220},{-116,-180}})));
  Movrel.Signals.DiscretePI current_loop(period=10e-6, K=0.04, T_i=100e-6, y_max=0.9, y_min=0.02, y_start=0.5)
    annotation (Placement(transformation(extent={{-76,-232},{-36,-192}})));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{80,-204},{120,-164}})));
equation
  connect(battery.a, amps.a);
  connect(amps.b, converter.a);
  connect(battery.b, ground.a);
  connect(converter.m, ground.a);
  connect(converter.b, buffer.a);
  connect(buffer.b, ground.a);
  connect(converter.b, lamps.a);
  connect(lamps.b, ground.a);
  connect(converter.b, more.a);
  connect(more.b, others.a);
  connect(others.b, ground.a);
  connect(converter.b, volts.a);
  connect(volts.b, ground.a);
  connect(wanted.y, voltage_loop.w);
  connect(volts.y, voltage_loop.x);
  connect(voltage_loop.y, current_loop.w);
  connect(amps.y, current_loop.x);
  connect(current_loop.y, converter.duty);
  annotation (
    experiment(StopTime=0.005, Interval=2e-06, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-250.8,73.8},{511.2,61.8}}, textString="Duty 0.5; input 5 A, then 10 A; ripple of a phase 1.2 A; of the sum V_out x(1 - x)/(N L f), x = N D - floor(N D)", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>Four phases, a quarter of a period apart, lift 24 V to 48 V; at 2.5 ms the other half of the lamps comes on.</p><p>By hand: duty <i>1 - 24/48 = 0.5</i>; input current <i>48²/(19.2·24) = 5 A</i>, then 10 A; ripple of one phase <i>24·0.5/(L f) = 1.2 A</i>. The sum of N phases has a ripple of <i>V_out·x (1 - x)/(N L f)</i> with x the part of N D beyond a whole number: at a duty near 0.5 and N = 4 it all but vanishes.</p></html>"),
    __Movrel(claims={"mean(volts.v, from=2 ms, to=2.4 ms) ≈ 48 V ± 1 %", "peak_to_peak(converter.i[1], from=2.3 ms, to=2.4 ms) ≈ 1.2 A ± 10 %", "mean(volts.v, from=4.5 ms) ≈ 48 V ± 1 %"}, scenarios={Scenario(name="two phases", colour=1, changes={{"converter.N", "2"}})}, recorder={{"volts.y"}, {"amps.y", "voltage_loop.y"}, {"converter.i[1]", "converter.i[2]"}}));
end LampSupply;
