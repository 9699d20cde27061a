within Movrel.Examples.Pneumatics;
model HandlingAxis "A cylinder moves out and back, its exhaust throttled"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=9e5)
    annotation (Placement(transformation(extent={{-58.4,-192.8},{-18.4,-152.8}})));
  Movrel.Pneumatics.ReducingValve regulator(p_set=7e5, C=8e-8)
    annotation (Placement(transformation(extent={{28,-192.8},{68,-152.8}})));
  Movrel.Pneumatics.Chamber manifold(V_0=2e-4, p_start=7e5)
    annotation (Placement(transformation(extent={{95.2,-269.6},{135.2,-229.6}})));
  Movrel.Signals.Pulse out_pulse(height=1, width=2, period=100, delay=0.5)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Signals.HysteresisSwitch out(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Pneumatics.Valve53 valve(C=2e-8)
    annotation (Placement(transformation(extent={{47.2,-20},{87.2,20}})));
  Movrel.Signals.Pulse back_pulse(height=1, width=2, period=100, delay=3)
    annotation (Placement(transformation(extent={{306.4,-20},{346.4,20}}, rotation=180)));
  Movrel.Signals.HysteresisSwitch back(on=0.6, off=0.4)
    annotation (Placement(transformation(extent={{210.4,-20},{250.4,20}}, rotation=180)));
  Movrel.Pneumatics.Silencer silencer_r
    annotation (Placement(transformation(extent={{-20,-116},{20,-76}}, rotation=180)));
  Movrel.Pneumatics.Silencer silencer_s
    annotation (Placement(transformation(extent={{152.8,-116},{192.8,-76}})));
  Movrel.Pneumatics.FlowControlValve throttle_a(C=1e-8, opening=0.2)
    annotation (Placement(transformation(extent={{-0.8,104.8},{39.2,144.8}}, rotation=-90)));
  Movrel.Pneumatics.FlowControlValve throttle_b(C=1e-8, opening=0.2)
    annotation (Placement(transformation(extent={{114.4,104.8},{154.4,144.8}}, rotation=-90)));
  Movrel.Pneumatics.DoubleActingCylinder cylinder(stroke=0.3, d_piston=0.04, d_rod=0.016, m=1, f_c=20)
    annotation (Placement(transformation(extent={{56.8,229.6},{96.8,269.6}})));
  Movrel.Translational.Mass slide(m=8)
    annotation (Placement(transformation(extent={{191.2,229.6},{231.2,269.6}})));
equation
  connect(supply.port, regulator.a);
  connect(regulator.b, manifold.a);
  connect(manifold.b, valve.P);
  connect(out_pulse.y, out.u);
  connect(out.y, valve.to_a);
  connect(back_pulse.y, back.u);
  connect(back.y, valve.to_b);
  connect(valve.R, silencer_r.a);
  connect(valve.S, silencer_s.a);
  connect(valve.A, throttle_a.b);
  connect(throttle_a.a, cylinder.a);
  connect(valve.B, throttle_b.b);
  connect(throttle_b.a, cylinder.b);
  connect(cylinder.rod, slide.a);
  annotation (
    experiment(StopTime=6, Interval=0.01),
    __Movrel(recorder={{"slide.s"}, {"cylinder.chamber_a.p", "cylinder.chamber_b.p"}}));
end HandlingAxis;
