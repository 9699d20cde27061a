within VarrowQuay;
model Leaf "Bridge leaf on its trunnions: weights, bearings, holding spring and a gust"
  Movrel.Signals.PointTable gust(table=[0, 0; 5, 0; 5.5, 60e3; 9, 60e3; 10, 0; 40, 0]) "Torque of the wind in N.m"
    annotation (Placement(transformation(extent={{-180,-56},{-140,-16}})));
  Movrel.Rotational.DrivenTorque wind
    annotation (Placement(transformation(extent={{-108,-56},{-68,-16}})));
  Movrel.Rotational.Inertia leaf(J=420e3, phi_start=0.5235987755982988) "Leaf and counterweight, held at 30°"
    annotation (Placement(transformation(extent={{-28,-64},{28,-8}})));
  Movrel.Rotational.GravityTorque span(m=9000, r=6) "Weight of the leaf"
    annotation (Placement(transformation(extent={{-20,36},{20,76}}, rotation=90)));
  Movrel.Rotational.GravityTorque counterweight(m=26000, r=2, phi_0=3.141592653589793) "It lies behind the trunnions"
    annotation (Placement(transformation(extent={{-20,-152},{20,-112}}, rotation=-90)));
  Movrel.Rotational.Bearing bearing(d=120e3) "Trunnion bearings"
    annotation (Placement(transformation(extent={{72,-136},{112,-96}})));
  Movrel.Rotational.Spring column(c=2e6, phi_0=-0.5320913) "Oil column that holds it at 30°"
    annotation (Placement(transformation(extent={{80,-56},{120,-16}})));
  Movrel.Rotational.HeldShaft pier
    annotation (Placement(transformation(extent={{172,-56},{212,-16}}, rotation=90)));
equation
  connect(gust.y, wind.tau);
  connect(wind.b, leaf.a);
  connect(leaf.b, span.a);
  connect(leaf.b, counterweight.a);
  connect(leaf.b, bearing.a);
  connect(leaf.b, column.a);
  connect(column.b, pier.a);
  annotation (
    experiment(StopTime=30, Interval=0.02, Tolerance=1e-08),
    Diagram(graphics={
      Text(extent={{-201.2,135.8},{232.2,123.8}}, textString="Natural frequency sqrt(c'/J) = 2.177 rad/s, damping ratio 0.0656, c' = c - K sin 30° = 1.990e6 N.m/rad", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The leaf is held at 30° by a column of oil, a stiff spring. A gust pushes it and lets it swing back.</p>
<p>By hand: the weights leave <i>K = (9000·6 - 26000·2) g = 19 613 N.m</i> times cos phi. About its rest the stiffness is <i>c' = c - K sin 30° = 1.990e6 N.m/rad</i>, so the natural angular frequency is <i>√(c'/J) = 2.177 rad/s</i> and the damping ratio <i>d/(2 √(c' J)) = 0.0656</i>. A steady 60 kN.m moves it by <i>60e3/c' = 1.73°</i>.</p></html>"),
    __Movrel(claims={"period(leaf.phi, from=12 s) ≈ 2*pi*sqrt(leaf.J/(column.c - 9806 N.m/rad)) ± 1 %", "damping(leaf.phi, from=12 s) ≈ bearing.d/(2*sqrt(leaf.J*column.c)) ± 5 %", "max(leaf.phi) < 35 deg"}, scenarios={Scenario(name="stiffer column", colour=1, changes={{"column.c", "4e6"}}),
      Scenario(name="light bearings", colour=2, changes={{"bearing.d", "40000"}})}, recorder={{"leaf.phi"}, {"leaf.w"}, {"column.tau", "gust.y"}}));
end Leaf;
