within VarrowQuay;
model Sump "Storm-water sump under the quay: rain gusts in, gravity outflow"
  // Rain gusts: 40 l/s for 5 min, every 20 min.
  Movrel.Signals.Pulse gusts(
    height(unit="m3/s", displayUnit="l/s") = 0.040,
    rest(unit="m3/s", displayUnit="l/s") = 0.002,
    width(displayUnit="min") = 300,
    period(displayUnit="min") = 1200,
    delay(displayUnit="min") = 120) "Rain on the quay"
    annotation (Placement(transformation(extent={{-130,50},{-90,90}})));
  Movrel.Process.Inflow drain "Gullies of the quay, collected"
    annotation (Placement(transformation(extent={{-60,50},{-20,90}})));
  Movrel.Process.Basin basin(
    area = 12 /* 3 m by 4 m */,
    level_start = 0.30,
    height = 2.0) "Concrete sump under the quay"
    annotation (Placement(transformation(extent={{0,0},{60,60}})));
  Movrel.Process.Orifice outlet(C_d = 0.62, diameter = 0.15) "Opening in the quay wall"
    annotation (Placement(transformation(extent={{80,-14},{120,26}})));
  Movrel.Process.Outfall harbour "Harbour basin at low tide"
    annotation (Placement(transformation(extent={{140,-14},{180,26}})));
equation
  connect(gusts.y, drain.q)
    annotation (Line(points={{-88,70},{-62,70}}, color={40,44,60}));
  connect(drain.port, basin.inlet)
    annotation (Line(points={{-20,70},{-10,70},{-10,48},{0,48}}, color={38,106,118}));
  connect(basin.outlet, outlet.a)
    annotation (Line(points={{60,6},{80,6}}, color={38,106,118}));
  connect(outlet.b, harbour.port)
    annotation (Line(points={{120,6},{140,6}}, color={38,106,118}));
  annotation (
    experiment(StartTime = 0, StopTime = 3600, Interval = 1, Tolerance = 1e-7),
    Diagram(
      coordinateSystem(extent={{-150,-50},{200,110}}),
      graphics={Text(extent={{-140,-30},{120,-42}}, textString="Steady level under constant inflow: (q/(C_d A))^2/(2 g)", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html>
<p>Rain falls in gusts. The sump fills while it rains and runs empty through an opening in the quay
wall. With a constant inflow q the level settles at <i>(q/(C_d A))^2/(2 g)</i>.</p>
</html>"),
    __Movrel(claims={"max(basin.level) < 1.2 m", "final(basin.volume) - initial(basin.volume) ≈ integral(basin.q_in) - integral(basin.q_out) ± 0.01 m3"},
      scenarios={Scenario(name="wide opening", colour=1, changes={{"outlet.diameter", "0.2"}}),
      Scenario(name="small basin", colour=2, changes={{"basin.area", "10"}})}, recorder={{"basin.level"}, {"basin.q_in", "basin.q_out"}}));
end Sump;
