within VarrowQuay;
model BarrierAir "Barrier arm moved by an air cylinder through a proportional valve"
  inner Movrel.Pneumatics.Gas gas(T_ambient=283.15)
    annotation (Placement(transformation(extent={{-314.4,101.6},{-274.4,141.6}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=7e5)
    annotation (Placement(transformation(extent={{-84,-186.4},{-44,-146.4}}, rotation=90)));
  Movrel.Pneumatics.ProportionalValve valve(C=1.2e-8, f_0=50)
    annotation (Placement(transformation(extent={{-84,-96.8},{-44,-56.8}})));
  Movrel.Pneumatics.Silencer out_a
    annotation (Placement(transformation(extent={{-160.8,-180},{-120.8,-140}}, rotation=180)));
  Movrel.Pneumatics.Silencer out_b
    annotation (Placement(transformation(extent={{-0.8,-180},{39.2,-140}})));
  Movrel.Pneumatics.DoubleActingCylinder cylinder(stroke=0.4, d_piston=0.08, d_rod=0.025, m=3, f_c=40, cushioned=true, l_cushion=0.04, C_port=3e-8, C_cushion=1e-9)
    annotation (Placement(transformation(extent={{-96,-12.8},{-32,51.2}})));
  Movrel.Pneumatics.Chamber hose_a(V_0=3e-5)
    annotation (Placement(transformation(extent={{-160.8,-45.6},{-120.8,-5.6}})));
  Movrel.Pneumatics.Chamber hose_b(V_0=3e-5)
    annotation (Placement(transformation(extent={{-7.2,-45.6},{32.8,-5.6}}, rotation=180)));
  Movrel.Rotational.RackPinion pinion(r=0.24)
    annotation (Placement(transformation(extent={{44,-0.8},{84,39.2}}, rotation=180)));
  Movrel.Rotational.Inertia arm(J=45) "Arm with its counterweight"
    annotation (Placement(transformation(extent={{120.8,-0.8},{160.8,39.2}})));
  Movrel.Rotational.GravityTorque weight(m=28, r=0.9) "What the counterweight leaves"
    annotation (Placement(transformation(extent={{197.6,44},{237.6,84}})));
  Movrel.Rotational.DrivenTorque gust
    annotation (Placement(transformation(extent={{210.4,-45.6},{250.4,-5.6}}, rotation=180)));
  Movrel.Signals.Pulse wind(height=-150, width=1, period=100, delay=7)
    annotation (Placement(transformation(extent={{287.2,-45.6},{327.2,-5.6}}, rotation=180)));
  Movrel.Rotational.Bearing bearing(d=60)
    annotation (Placement(transformation(extent={{197.6,-109.6},{237.6,-69.6}})));
  Movrel.Rotational.Encoder angle
    annotation (Placement(transformation(extent={{120.8,95.2},{160.8,135.2}}, rotation=180)));
  Movrel.Signals.SetPointProfile set_point(y_start=0, y_end=1.5, delay=0.5, v_max=0.7, a_max=1.5)
    annotation (Placement(transformation(extent={{-314.4,-96.8},{-274.4,-56.8}})));
  Movrel.Signals.PI control(K=1.5, T_i=20, y_max=1, y_min=-1)
    annotation (Placement(transformation(extent={{-224.8,-96.8},{-184.8,-56.8}})));
equation
  connect(supply.port, valve.P);
  connect(valve.R, out_a.a);
  connect(valve.S, out_b.a);
  connect(valve.A, hose_a.b);
  connect(valve.B, hose_b.b);
  connect(hose_a.a, cylinder.a);
  connect(hose_b.a, cylinder.b);
  connect(cylinder.rod, pinion.b);
  connect(pinion.a, arm.a);
  connect(arm.b, weight.a);
  connect(arm.b, bearing.a);
  connect(gust.b, arm.b);
  connect(wind.y, gust.tau);
  connect(arm.a, angle.a);
  connect(angle.phi, control.x);
  connect(set_point.y, control.w);
  connect(control.y, valve.u);
  annotation (
    experiment(StopTime=12, Interval=0.01, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-320,200},{280,188}}, textString="Level, the arm asks for 28·9.81·0.9 = 247 N.m: 1030 N at the rack. Upright it asks for almost nothing.", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The arm of the quay's barrier is lifted by a cylinder, whose rod turns a pinion. A controller moves the proportional valve; cushions brake the piston at the end. At 7 s a gust pushes the arm.</p><p>By hand: level at the start the arm asks for <i>28·9.81·0.9 = 247 N.m</i>, at the rack <i>247/0.24 = 1030 N</i>; upright almost nothing. The mass of air that has come in is in the chambers or has left through the silencers.</p></html>"),
    __Movrel(claims={"at(arm.phi, 6.5 s) ≈ 1.5 rad ± 2 %", "max(arm.phi) < 1.65 rad", "-integral(supply.port.m) ≈ final(out_a.vented) + final(out_b.vented) + final(cylinder.chamber_a.m_gas) + final(cylinder.chamber_b.m_gas) + final(hose_a.m_gas) + final(hose_b.m_gas) + final(out_a.m_gas) + final(out_b.m_gas) - initial(cylinder.chamber_a.m_gas) - initial(cylinder.chamber_b.m_gas) - initial(hose_a.m_gas) - initial(hose_b.m_gas) - initial(out_a.m_gas) - initial(out_b.m_gas) ± 0.5 %", "max(cylinder.chamber_a.p) < 7.2 bar"}, scenarios={Scenario(name="no cushions", colour=1, changes={{"cylinder.cushioned", "false"}}), Scenario(name="5 bar", colour=2, changes={{"supply.p_0", "5e5"}})}, recorder={{"arm.phi", "set_point.y"}, {"cylinder.chamber_a.p", "cylinder.chamber_b.p"}, {"valve.x"}}));
end BarrierAir;
