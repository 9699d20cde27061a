within Movrel.Examples.Pneumatics;
model PositionedCylinder "A proportional valve holds a cylinder where it is asked to be"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-308,172},{-268,212}})));
  Movrel.Signals.Step set_point(before=0.1, after=0.2, delay=2)
    annotation (Placement(transformation(extent={{-308,-20},{-268,20}})));
  Movrel.Signals.Sum error(k_2=-1)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Signals.Gain control(k=5)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=7e5)
    annotation (Placement(transformation(extent={{-58.4,-173.6},{-18.4,-133.6}})));
  Movrel.Pneumatics.ProportionalValve valve(C=1e-8)
    annotation (Placement(transformation(extent={{37.6,-20},{77.6,20}})));
  Movrel.Pneumatics.Atmosphere outside
    annotation (Placement(transformation(extent={{37.6,-173.6},{77.6,-133.6}}, rotation=-90)));
  Movrel.Pneumatics.DoubleRodCylinder cylinder(stroke=0.3, s_start=0.1, d_piston=0.04, d_rod=0.016, m=1, f_c=15, p_a_start=4e5, p_b_start=4e5)
    annotation (Placement(transformation(extent={{66.4,114.4},{106.4,154.4}})));
  Movrel.Translational.Mass slide(m=10, s_start=0.1)
    annotation (Placement(transformation(extent={{191.2,114.4},{231.2,154.4}})));
  Movrel.Translational.Damper guide(d=100)
    annotation (Placement(transformation(extent={{287.2,114.4},{327.2,154.4}})));
  Movrel.Translational.HeldRod frame
    annotation (Placement(transformation(extent={{383.2,114.4},{423.2,154.4}}, rotation=180)));
  Movrel.Translational.DisplacementGauge scale
    annotation (Placement(transformation(extent={{287.2,210.4},{327.2,250.4}})));
equation
  connect(set_point.y, error.u_1);
  connect(scale.s, error.u_2);
  connect(error.y, control.u);
  connect(control.y, valve.u);
  connect(supply.port, valve.P);
  connect(valve.R, outside.port);
  connect(valve.S, outside.port);
  connect(valve.A, cylinder.a);
  connect(valve.B, cylinder.b);
  connect(cylinder.rod, slide.a);
  connect(slide.b, guide.a);
  connect(guide.b, frame.a);
  connect(slide.b, scale.a);
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"slide.s", "set_point.y"}, {"cylinder.chamber_a.p", "cylinder.chamber_b.p"}}));
end PositionedCylinder;
