within Movrel.Examples.Pneumatics;
model BrakeServo "A vacuum servo boosts the force of a foot"
  inner Movrel.Pneumatics.Gas gas
    annotation (Placement(transformation(extent={{-212,172},{-172,212}})));
  Movrel.Signals.Ramp push(height=200, duration=0.5, delay=0.5)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Translational.DrivenForce foot
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Pneumatics.ServoAssistedActuator servo(p_start=3e4)
    annotation (Placement(transformation(extent={{-0.8,-20},{39.2,20}})));
  Movrel.Pneumatics.Atmosphere room
    annotation (Placement(transformation(extent={{-77.6,95.2},{-37.6,135.2}}, rotation=180)));
  Movrel.Pneumatics.VacuumSource pump
    annotation (Placement(transformation(extent={{-96.8,191.2},{-56.8,231.2}})));
  Movrel.Pneumatics.Chamber reservoir(V_0=5e-3, p_start=3e4)
    annotation (Placement(transformation(extent={{37.6,191.2},{77.6,231.2}})));
  Movrel.Translational.Spring master(c=1e5)
    annotation (Placement(transformation(extent={{133.6,-20},{173.6,20}})));
  Movrel.Translational.HeldRod wall
    annotation (Placement(transformation(extent={{229.6,-20},{269.6,20}}, rotation=180)));
equation
  connect(push.y, foot.f);
  connect(foot.b, servo.rod_in);
  connect(room.port, servo.air);
  connect(pump.port, reservoir.a);
  connect(reservoir.c, servo.vacuum);
  connect(servo.rod_out, master.a);
  connect(master.b, wall.a);
  annotation (
    experiment(StopTime=3, Interval=0.005),
    __Movrel(recorder={{"master.f"}, {"reservoir.p"}}));
end BrakeServo;
