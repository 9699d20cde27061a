within Movrel.Examples.Hydraulics;
model DiscBrake "A push rod brakes two wheels over two circuits"
  Movrel.Signals.Ramp push(height=800, duration=0.2, delay=0.5)
    annotation (Placement(transformation(extent={{-212,-20},{-172,20}})));
  Movrel.Translational.DrivenForce foot
    annotation (Placement(transformation(extent={{-116,-20},{-76,20}})));
  Movrel.Hydraulics.MasterCylinder master
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Hydraulics.Line rear_line(l=2, d=0.004)
    annotation (Placement(transformation(extent={{37.6,-116},{77.6,-76}}, rotation=-90)));
  Movrel.Hydraulics.Line front_line(l=1, d=0.004)
    annotation (Placement(transformation(extent={{133.6,-77.6},{173.6,-37.6}})));
  Movrel.Hydraulics.Caliper rear
    annotation (Placement(transformation(extent={{229.6,-212},{269.6,-172}})));
  Movrel.Hydraulics.Caliper front
    annotation (Placement(transformation(extent={{229.6,-116},{269.6,-76}})));
  Movrel.Rotational.Inertia rear_wheel(J=1, w_start=90)
    annotation (Placement(transformation(extent={{133.6,-212},{173.6,-172}}, rotation=180)));
  Movrel.Rotational.Inertia front_wheel(J=2, w_start=90)
    annotation (Placement(transformation(extent={{133.6,-144.8},{173.6,-104.8}}, rotation=180)));
equation
  connect(push.y, foot.f);
  connect(foot.b, master.rod);
  connect(master.rear, rear_line.a);
  connect(master.front, front_line.a);
  connect(rear_line.b, rear.port);
  connect(front_line.b, front.port);
  connect(rear_wheel.a, rear.disc);
  connect(front_wheel.a, front.disc);
  annotation (
    experiment(StopTime=3, Interval=0.002),
    __Movrel(recorder={{"rear_wheel.w", "front_wheel.w"}, {"rear.port.p", "front.port.p"}, {"rear.tau", "front.tau"}}));
end DiscBrake;
