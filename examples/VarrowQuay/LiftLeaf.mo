within VarrowQuay;
model LiftLeaf "Lifting leaf on the rod of its cylinder: mass, weight and friction"
  parameter Movrel.Units.Mass m = 12000 "Mass, as seen from the rod";
  parameter Movrel.Units.Force weight = 50e3 "What of the weight is not balanced";
  parameter Movrel.Units.Length s_start = 0.1 "Position at the start";
  Movrel.Signals.SignalIn f(unit="N") "Force of the rod"
    annotation (Placement(transformation(extent={{-180,-10},{-160,10}}), iconTransformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.SignalOut v(unit="m/s") "Speed of the rod"
    annotation (Placement(transformation(extent={{160,30},{180,50}}), iconTransformation(extent={{100,40},{120,60}})));
  Movrel.Signals.SignalOut s(unit="m") "Position of the rod"
    annotation (Placement(transformation(extent={{160,-70},{180,-50}}), iconTransformation(extent={{100,-60},{120,-40}})));
  Movrel.Translational.DrivenForce rod
    annotation (Placement(transformation(extent={{-130,-20},{-90,20}})));
  Movrel.Translational.Mass leaf(m=m, s_start=s_start)
    annotation (Placement(transformation(extent={{-50,-20},{-10,20}})));
  Movrel.Translational.Speedometer speed
    annotation (Placement(transformation(extent={{40,20},{80,60}})));
  Movrel.Translational.DisplacementGauge position
    annotation (Placement(transformation(extent={{40,-80},{80,-40}})));
  Movrel.Translational.Damper guides(d=3000) "Guides and seals of the leaf"
    annotation (Placement(transformation(extent={{-50,-90},{-10,-50}})));
  Movrel.Translational.HeldRod ground
    annotation (Placement(transformation(extent={{0,-140},{40,-100}})));
  Movrel.Translational.DrivenForce load
    annotation (Placement(transformation(extent={{-50,70},{-10,110}})));
  Movrel.Signals.Constant gravity(value=-weight)
    annotation (Placement(transformation(extent={{-130,70},{-90,110}})));
equation
  connect(f, rod.f);
  connect(rod.b, leaf.a);
  connect(leaf.b, speed.a);
  connect(leaf.b, position.a);
  connect(leaf.b, load.b);
  connect(leaf.a, guides.a);
  connect(guides.b, ground.a);
  connect(gravity.y, load.f);
  connect(speed.v, v);
  connect(position.s, s);
  annotation (
    experiment(StopTime=10),
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-70,20},{70,-20}}, lineColor={40,44,60}),
      Text(extent={{-150,140},{150,104}}, textString="%name")}),
    Diagram(graphics={
      Text(extent={{-170,150},{170,138}}, textString="Force in, speed and position out: a unit of its own", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The leaf as its maker hands it over: the force of the rod goes in, speed and position come out.</p></html>"));
end LiftLeaf;
