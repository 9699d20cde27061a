within Movrel.Examples.Mechanics;
model PlayedDrive "A slide is moved to and fro; the table follows through a joint with play"
  Movrel.Signals.Sine motion(amplitude=0.05, f=0.5)
    annotation (Placement(transformation(extent={{-160,-20},{-120,20}})));
  Movrel.Translational.DrivenSpeed slide
    annotation (Placement(transformation(extent={{-80,-20},{-40,20}})));
  Movrel.Translational.Backlash joint(play=4e-3, c=1e6, d=2000)
    annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Translational.Mass table(m=20)
    annotation (Placement(transformation(extent={{80,-20},{120,20}})));
  Movrel.Translational.Damper bed(d=200)
    annotation (Placement(transformation(extent={{160,-20},{200,20}})));
  Movrel.Translational.HeldRod frame
    annotation (Placement(transformation(extent={{240,-20},{280,20}})));
equation
  connect(motion.y, slide.v);
  connect(slide.b, joint.a);
  connect(joint.b, table.a);
  connect(table.b, bed.a);
  connect(bed.b, frame.a);
  annotation (
    experiment(StopTime=6, Interval=0.005, Tolerance=1e-07),
    __Movrel(recorder={{"joint.a.s", "table.s"}, {"table.v"}}));
end PlayedDrive;
