within Movrel.Examples.Hydraulics;
model ServoAxis "A cylinder with two rods follows a set point over a servo valve"
  Movrel.Signals.SetPointProfile set_point(y_start=0.1, y_end=0.3, delay=0.5, v_max=0.2, a_max=1)
    annotation (Placement(transformation(extent={{-308,-20},{-268,20}})));
  Movrel.Signals.Sum error(k_2=-1)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Signals.Gain control(k=40)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Hydraulics.HeldPressure supply(p_0=140e5)
    annotation (Placement(transformation(extent={{-20,-135.2},{20,-95.2}})));
  Movrel.Hydraulics.Tank tank
    annotation (Placement(transformation(extent={{76,-135.2},{116,-95.2}})));
  Movrel.Hydraulics.ProportionalValve servo(q_n=20/60000)
    annotation (Placement(transformation(extent={{18.4,-20},{58.4,20}})));
  Movrel.Hydraulics.DoubleRodCylinder cylinder(stroke=0.4, s_start=0.1, d_piston=0.04, d_rod=0.025, m=4, f_c=50, p_a_start=70e5, p_b_start=70e5)
    annotation (Placement(transformation(extent={{56.8,114.4},{96.8,154.4}})));
  Movrel.Translational.Mass slide(m=60, s_start=0.1)
    annotation (Placement(transformation(extent={{191.2,114.4},{231.2,154.4}})));
  Movrel.Translational.DisplacementGauge scale
    annotation (Placement(transformation(extent={{287.2,114.4},{327.2,154.4}})));
equation
  connect(set_point.y, error.u_1);
  connect(scale.s, error.u_2);
  connect(error.y, control.u);
  connect(control.y, servo.u);
  connect(supply.port, servo.P);
  connect(tank.port, servo.T);
  connect(servo.A, cylinder.a);
  connect(servo.B, cylinder.b);
  connect(cylinder.rod, slide.a);
  connect(slide.b, scale.a);
  annotation (
    experiment(StopTime=4, Interval=0.005),
    __Movrel(recorder={{"slide.s", "set_point.y"}, {"cylinder.p_a", "cylinder.p_b"}}));
end ServoAxis;
