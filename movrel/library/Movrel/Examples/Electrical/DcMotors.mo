within Movrel.Examples.Electrical;
model DcMotors "A permanent-magnet motor and a separately excited one start up"
  Movrel.Electrical.VoltageSource V(V=24)
    annotation (Placement(transformation(extent={{-20,-60},{20,-20}}, rotation=-90)));
  Movrel.Electrical.PermanentMagnetMotor motor(R_a=0.8, k_M=0.05, L_a=0.4e-3, J=2e-5)
    annotation (Placement(transformation(extent={{108,-84},{148,-44}})));
  Movrel.Rotational.Bearing load(d=1e-5)
    annotation (Placement(transformation(extent={{220,-84},{260,-44}})));
  Movrel.Rotational.Tachometer sensor
    annotation (Placement(transformation(extent={{220,-20},{260,20}})));
  Movrel.Electrical.VoltageSource Va(V=200)
    annotation (Placement(transformation(extent={{-20,-260},{20,-220}}, rotation=-90)));
  Movrel.Electrical.ExcitedMotor excited(R_a=0.5, L_a=5e-3, R_f=100, L_f=10, L_af=1, J=0.05)
    annotation (Placement(transformation(extent={{124,-292},{164,-252}})));
  Movrel.Rotational.Damper fan(d=0.02)
    annotation (Placement(transformation(extent={{236,-292},{276,-252}})));
  Movrel.Rotational.HeldShaft frame
    annotation (Placement(transformation(extent={{332,-292},{372,-252}}, rotation=90)));
  Movrel.Electrical.Ground ground
    annotation (Placement(transformation(extent={{-20,-388},{20,-348}})));
equation
  connect(V.a, motor.a);
  connect(V.b, motor.b);
  connect(V.b, ground.a);
  connect(motor.shaft, load.a);
  connect(motor.shaft, sensor.a);
  connect(Va.a, excited.a);
  connect(Va.b, excited.b);
  connect(Va.b, ground.a);
  connect(Va.a, excited.fa);
  connect(Va.b, excited.fb);
  connect(excited.shaft, fan.a);
  connect(fan.b, frame.a);
  annotation (
    experiment(StopTime=1, Interval=0.001, Tolerance=1e-08),
    __Movrel(recorder={{"motor.w", "excited.w"}, {"motor.i", "excited.i_a"}}));
end DcMotors;
