within VarrowQuay;
model TestBasin "Basin of the bench: its pump is turned up by a step"
  Movrel.Signals.Step command(
    before(unit="m3/s", displayUnit="l/min") = 4.1666666666666667e-4,
    after(unit="m3/s", displayUnit="l/min") = 4.6666666666666667e-4,
    delay = 60) "Flow of the pump, 25 to 28 l/min"
    annotation (Placement(transformation(extent={{-130,50},{-90,90}})));
  Movrel.Process.Inflow pump "Pump of the bench"
    annotation (Placement(transformation(extent={{-60,50},{-20,90}})));
  Movrel.Process.Basin basin(
    area(displayUnit="cm2") = 0.12 /* 40 cm by 30 cm */,
    level_start(displayUnit="mm") = 0.2333,
    height(displayUnit="mm") = 0.5) "Basin of the bench"
    annotation (Placement(transformation(extent={{0,0},{60,60}})));
  Movrel.Process.Orifice outlet(C_d = 0.62, diameter(displayUnit="mm") = 0.02) "Hole in the floor"
    annotation (Placement(transformation(extent={{80,-14},{120,26}})));
  Movrel.Process.Outfall gutter "Gutter below the bench"
    annotation (Placement(transformation(extent={{140,-14},{180,26}})));
equation
  connect(command.y, pump.q)
    annotation (Line(points={{-88,70},{-62,70}}, color={40,44,60}));
  connect(pump.port, basin.inlet)
    annotation (Line(points={{-20,70},{-10,70},{-10,48},{0,48}}, color={38,106,118}));
  connect(basin.outlet, outlet.a)
    annotation (Line(points={{60,6},{80,6}}, color={38,106,118}));
  connect(outlet.b, gutter.port)
    annotation (Line(points={{120,6},{140,6}}, color={38,106,118}));
  annotation (
    experiment(StartTime = 0, StopTime = 1200, Interval = 1, Tolerance = 1e-7),
    Diagram(
      coordinateSystem(extent={{-150,-50},{200,110}}),
      graphics={Text(extent={{-140,-30},{150,-42}}, textString="Rest at h = (q/(C_d A))²/(2 g); gain 2 h/q, time constant 2 h area/q", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html>
<p>The pump of the bench goes from 25 to 28 l/min after a minute, and the level from 233.3 to 292.7 mm.</p>
<p>By hand: the level rests at <i>h = (q/(C_d A))<sup>2</sup>/(2 g)</i>. Near it a step of the flow moves it by <i>2 h/q</i>, with the
time constant <i>2 h area/q</i>: 134.4 s at 25 l/min and 150.5 s at 28 l/min.</p>
</html>"),
    __Movrel(claims={"final(basin.level) ≈ 292.7 mm ± 0.5 mm"}, recorder={{"basin.level"}, {"basin.q_in", "basin.q_out"}}));
end TestBasin;
