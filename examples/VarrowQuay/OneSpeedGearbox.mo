within VarrowQuay;
model OneSpeedGearbox "The same housing with one fixed ratio, for comparison"
  parameter Real i = 3 "Ratio";
  Movrel.Rotational.Shaft a "Input shaft"
    annotation (Placement(transformation(extent={{-170,-10},{-150,10}}), iconTransformation(extent={{-110,-10},{-90,10}})));
  Movrel.Rotational.Shaft b "Output shaft"
    annotation (Placement(transformation(extent={{230,-10},{250,10}}), iconTransformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalIn low_1 "Not used"
    annotation (Placement(transformation(extent={{-130,100},{-110,120}}), iconTransformation(extent={{-85,100},{-65,120}})));
  Movrel.Signals.SignalIn high_1 "Not used"
    annotation (Placement(transformation(extent={{-50,100},{-30,120}}), iconTransformation(extent={{-35,100},{-15,120}})));
  Movrel.Signals.SignalIn low_2 "Not used"
    annotation (Placement(transformation(extent={{70,100},{90,120}}), iconTransformation(extent={{15,100},{35,120}})));
  Movrel.Signals.SignalIn high_2 "Not used"
    annotation (Placement(transformation(extent={{150,100},{170,120}}), iconTransformation(extent={{65,100},{85,120}})));
  Movrel.Rotational.Gear gear(i=i) "Fixed gear"
    annotation (Placement(transformation(extent={{20,-20},{60,20}})));
equation
  connect(a, gear.a);
  connect(gear.b, b);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}),
      Text(extent={{-90,-50},{90,-96}}, textString="i = %i"),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}));
end OneSpeedGearbox;
