within VarrowQuay;
model CapstanAir "Capstan with an air motor whose speed follows a pattern while the rope pulls and lets go"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-327.2,82.4},{-287.2,122.4}})));
  Movrel.Pneumatics.HeldPressure supply(p_0=8e5)
    annotation (Placement(transformation(extent={{-237.6,-96.8},{-197.6,-56.8}})));
  Movrel.Pneumatics.DrivenRestriction valve(C=4e-8)
    annotation (Placement(transformation(extent={{-154.4,-96.8},{-114.4,-56.8}})));
  Movrel.Pneumatics.Chamber hose(V_0=1e-3)
    annotation (Placement(transformation(extent={{-71.2,-96.8},{-31.2,-56.8}})));
  Movrel.Pneumatics.VaneMotorByMap motor(tau_stall=14, w_free=420, m_free=0.035, m_stall=0.008)
    annotation (Placement(transformation(extent={{24.8,-20},{64.8,20}}, rotation=-90)));
  Movrel.Pneumatics.Silencer out(C=8e-8)
    annotation (Placement(transformation(extent={{101.6,-84},{141.6,-44}})));
  Movrel.Rotational.Gear gear(i=25)
    annotation (Placement(transformation(extent={{24.8,69.6},{64.8,109.6}}, rotation=90)));
  Movrel.Rotational.Inertia capstan(J=40)
    annotation (Placement(transformation(extent={{108,133.6},{148,173.6}})));
  Movrel.Rotational.Bearing bearing(d=5)
    annotation (Placement(transformation(extent={{191.2,82.4},{231.2,122.4}})));
  Movrel.Rotational.DrivenTorque rope
    annotation (Placement(transformation(extent={{197.6,133.6},{237.6,173.6}}, rotation=180)));
  Movrel.Signals.PointTable load(table=[0, 0; 8, 0; 8.5, -120; 16, -120; 16.5, 0; 30, 0]) "Rope in N.m"
    annotation (Placement(transformation(extent={{274.4,133.6},{314.4,173.6}}, rotation=180)));
  Movrel.Rotational.Tachometer speed
    annotation (Placement(transformation(extent={{18.4,191.2},{58.4,231.2}}, rotation=180)));
  Movrel.Signals.PointTable pattern(table=[0, 0; 1, 0; 4, 8; 12, 8; 13, 12; 20, 12; 24, 0; 30, 0]) "Speed in rad/s"
    annotation (Placement(transformation(extent={{-327.2,-20},{-287.2,20}})));
  Movrel.Signals.PI control(K=0.4, T_i=1, y_max=1, y_min=0)
    annotation (Placement(transformation(extent={{-237.6,-20},{-197.6,20}})));
equation
  connect(supply.port, valve.a);
  connect(valve.b, hose.a);
  connect(hose.b, motor.a);
  connect(motor.b, out.a);
  connect(motor.shaft, gear.a);
  connect(gear.b, capstan.a);
  connect(capstan.b, bearing.a);
  connect(capstan.b, rope.b);
  connect(load.y, rope.tau);
  connect(capstan.a, speed.a);
  connect(pattern.y, control.w);
  connect(speed.w, control.x);
  connect(control.y, valve.opening);
  annotation (
    experiment(StopTime=30, Interval=0.01, Tolerance=1e-06),
    Diagram(graphics={
      Text(extent={{-330,240},{310,228}}, textString="At 8 rad/s under load the motor turns with 200 rad/s and gives (120 + 5·8)/25 = 6.4 N.m", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>A vane motor turns the capstan over a gear. A controller opens the throttle valve so that the speed follows a pattern; from 8 s to 16 s the rope pulls.</p><p>By hand: at 8 rad/s the motor turns with 200 rad/s and gives <i>(120 + 5·8)/25 = 6.4 N.m</i>; its map has <i>14 (1 - 200/420) = 7.3 N.m</i> at full pressure, so the valve has to open far.</p></html>"),
    __Movrel(claims={"at(capstan.w, 7.5 s) ≈ 8 rad/s ± 3 %", "at(capstan.w, 11.5 s) ≈ 8 rad/s ± 5 %", "at(motor.tau, 11.5 s) ≈ 160 N.m/25 ± 5 %", "-integral(supply.port.m) ≈ final(out.vented) + final(hose.m_gas) - initial(hose.m_gas) ± 0.5 %"}, scenarios={Scenario(name="6 bar", colour=1, changes={{"supply.p_0", "6e5"}}), Scenario(name="faster control", colour=2, changes={{"control.K", "1"}})}, recorder={{"capstan.w", "pattern.y"}, {"hose.p"}, {"motor.tau", "valve.opening"}}));
end CapstanAir;
