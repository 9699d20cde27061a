within VarrowQuay;
model FourSpeedGearbox "Two planetary stages in series, each low by its ring brake or direct by its clutch"
  parameter Real z_1 = 2 "Teeth of ring over sun, first stage: 3 or 1";
  parameter Real z_2 = 1.2 "Teeth of ring over sun, second stage: 2.2 or 1";
  Movrel.Rotational.Shaft a "Input shaft"
    annotation (Placement(transformation(extent={{-170,-10},{-150,10}}), iconTransformation(extent={{-110,-10},{-90,10}})));
  Movrel.Rotational.Shaft b "Output shaft"
    annotation (Placement(transformation(extent={{230,-10},{250,10}}), iconTransformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalIn low_1 "Ring brake of the first stage"
    annotation (Placement(transformation(extent={{-130,100},{-110,120}}), iconTransformation(extent={{-85,100},{-65,120}})));
  Movrel.Signals.SignalIn high_1 "Clutch of the first stage"
    annotation (Placement(transformation(extent={{-50,100},{-30,120}}), iconTransformation(extent={{-35,100},{-15,120}})));
  Movrel.Signals.SignalIn low_2 "Ring brake of the second stage"
    annotation (Placement(transformation(extent={{70,100},{90,120}}), iconTransformation(extent={{15,100},{35,120}})));
  Movrel.Signals.SignalIn high_2 "Clutch of the second stage"
    annotation (Placement(transformation(extent={{150,100},{170,120}}), iconTransformation(extent={{65,100},{85,120}})));
  Movrel.Rotational.PlanetarySet stage_1(z=z_1) "First stage"
    annotation (Placement(transformation(extent={{-80,-20},{-40,20}})));
  Movrel.Rotational.Inertia ring_1(J=2e-4) "Its ring"
    annotation (Placement(transformation(extent={{-100,50},{-60,90}})));
  Movrel.Rotational.Brake brake_1(tau_max=40) "Its ring brake"
    annotation (Placement(transformation(extent={{-110,50},{-150,90}})));
  Movrel.Rotational.Clutch clutch_1(tau_max=30) "Locks sun and carrier"
    annotation (Placement(transformation(extent={{-80,-80},{-40,-40}})));
  Movrel.Rotational.Inertia shaft(J=5e-4) "Shaft between the stages"
    annotation (Placement(transformation(extent={{0,-20},{40,20}})));
  Movrel.Rotational.PlanetarySet stage_2(z=z_2) "Second stage"
    annotation (Placement(transformation(extent={{120,-20},{160,20}})));
  Movrel.Rotational.Inertia ring_2(J=4e-4) "Its ring"
    annotation (Placement(transformation(extent={{100,50},{140,90}})));
  Movrel.Rotational.Brake brake_2(tau_max=60) "Its ring brake"
    annotation (Placement(transformation(extent={{90,50},{50,90}})));
  Movrel.Rotational.Clutch clutch_2(tau_max=80) "Locks sun and carrier"
    annotation (Placement(transformation(extent={{120,-80},{160,-40}})));
equation
  connect(a, stage_1.sun);
  connect(stage_1.ring, ring_1.b);
  connect(ring_1.a, brake_1.a);
  connect(a, clutch_1.a);
  connect(clutch_1.b, stage_1.carrier);
  connect(stage_1.carrier, shaft.a);
  connect(shaft.b, stage_2.sun);
  connect(stage_2.ring, ring_2.b);
  connect(ring_2.a, brake_2.a);
  connect(shaft.b, clutch_2.a);
  connect(clutch_2.b, stage_2.carrier);
  connect(stage_2.carrier, b);
  connect(low_1, brake_1.u);
  connect(high_1, clutch_1.u);
  connect(low_2, brake_2.u);
  connect(high_2, clutch_2.u);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-70,40},{-10,-20}}, lineColor={40,44,60}),
      Ellipse(extent={{10,40},{70,-20}}, lineColor={40,44,60}),
      Text(extent={{-90,-40},{90,-90}}, textString="4"),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p>Ratios: 3·2.2 = 6.6, 3, 2.2 and 1.</p></html>"));
end FourSpeedGearbox;
