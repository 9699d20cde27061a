within VarrowQuay;
model LiftPowerPack "Power pack with servo valve and cylinder, up to the eye of the rod"
  inner Movrel.Hydraulics.Oil oil
    annotation (Placement(transformation(extent={{-210,110},{-170,150}})));
  parameter Movrel.Units.Length s_start = 0.1 "Position of the rod at the start";
  Movrel.Signals.SignalIn u "Opening of the valve, from -1 to 1"
    annotation (Placement(transformation(extent={{-240,-10},{-220,10}}), iconTransformation(extent={{-120,40},{-100,60}})));
  Movrel.Signals.SignalIn v(unit="m/s") "Speed of the eye of the rod"
    annotation (Placement(transformation(extent={{-240,-160},{-220,-140}}), iconTransformation(extent={{-120,-60},{-100,-40}})));
  Movrel.Signals.SignalOut f(unit="N") "Force on the leaf"
    annotation (Placement(transformation(extent={{220,50},{240,70}}), iconTransformation(extent={{100,40},{120,60}})));
  Movrel.Signals.SignalOut p(unit="Pa", displayUnit="bar") "Pressure of the accumulator"
    annotation (Placement(transformation(extent={{220,-70},{240,-50}}), iconTransformation(extent={{100,-60},{120,-40}})));
  Movrel.Signals.Constant speed(value=154.5) "Motor at 1475 rpm"
    annotation (Placement(transformation(extent={{-210,-100},{-170,-60}})));
  Movrel.Rotational.DrivenSpeed motor
    annotation (Placement(transformation(extent={{-150,-100},{-110,-60}})));
  Movrel.Hydraulics.Pump pump(D=28e-6)
    annotation (Placement(transformation(extent={{-90,-100},{-50,-60}})));
  Movrel.Hydraulics.Tank tank(V_start=0.16)
    annotation (Placement(transformation(extent={{-90,-160},{-50,-120}})));
  Movrel.Hydraulics.Chamber outlet(V=1e-3) "Line behind the pump"
    annotation (Placement(transformation(extent={{-90,-10},{-50,30}})));
  Movrel.Hydraulics.ReliefValve relief(p_set=160e5, q_n=80/60000)
    annotation (Placement(transformation(extent={{-40,-60},{0,-20}}, rotation=-90)));
  Movrel.Hydraulics.Tank tank_2
    annotation (Placement(transformation(extent={{-40,-160},{0,-120}})));
  Movrel.Hydraulics.CheckValve check
    annotation (Placement(transformation(extent={{-40,-10},{0,30}})));
  Movrel.Hydraulics.Accumulator accumulator(V_gas=4e-3, p_precharge=90e5)
    annotation (Placement(transformation(extent={{10,40},{50,80}})));
  Movrel.Hydraulics.ProportionalValve servo(lap=0.03, dp_n=35e5)
    annotation (Placement(transformation(extent={{60,-10},{100,30}})));
  Movrel.Hydraulics.Tank tank_3
    annotation (Placement(transformation(extent={{90,-80},{130,-40}})));
  Movrel.Hydraulics.DoubleActingCylinder cylinder(stroke=1.2, s_start=s_start, d_piston=0.08, d_rod=0.045, m=60, f_c=400, V_dead=2e-4, leak=1e-13)
    annotation (Placement(transformation(extent={{60,70},{100,110}})));
  Movrel.Translational.SpringDamper linkage(c=8e5, d=4e4) "Linkage and its rubber bush give"
    annotation (Placement(transformation(extent={{110,70},{150,110}})));
  Movrel.Translational.ForceGauge force
    annotation (Placement(transformation(extent={{150,90},{190,130}})));
  Movrel.Translational.DrivenSpeed eye(s_start=s_start)
    annotation (Placement(transformation(extent={{180,130},{220,170}}, rotation=180)));
equation
  connect(speed.y, motor.w);
  connect(motor.b, pump.shaft);
  connect(tank.port, pump.a);
  connect(pump.b, relief.a);
  connect(relief.b, tank_2.port);
  connect(pump.b, outlet.port);
  connect(pump.b, check.a);
  connect(check.b, accumulator.port);
  connect(check.b, servo.P);
  connect(servo.T, tank_3.port);
  connect(servo.A, cylinder.a);
  connect(servo.B, cylinder.b);
  connect(u, servo.u);
  connect(cylinder.rod, linkage.a);
  connect(linkage.b, force.a);
  connect(force.b, eye.b);
  connect(v, eye.v);
  connect(force.f, f);
  p = accumulator.p;
  annotation (
    experiment(StopTime=10),
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-70,30},{-10,-30}}, lineColor={40,44,60}), Rectangle(extent={{10,30},{70,-30}}, lineColor={40,44,60}),
      Text(extent={{-150,140},{150,104}}, textString="%name")}),
    Diagram(graphics={
      Text(extent={{-150,190},{170,178}}, textString="Valve and speed of the rod in, force out", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The power pack as its maker hands it over. The rod ends in an eye whose speed is given from outside; the force on it comes out.</p></html>"));
end LiftPowerPack;
