within VarrowQuay;
model TugOneSpeed "One fixed ratio in the place of the tug's gearbox, for comparison"
  parameter Real i = 2.1 "Ratio";
  Movrel.Rotational.Shaft a "Input shaft"
    annotation (Placement(transformation(extent={{-110,-10},{-90,10}}), iconTransformation(extent={{-110,-10},{-90,10}})));
  Movrel.Rotational.Shaft b "Output shaft"
    annotation (Placement(transformation(extent={{90,-10},{110,10}}), iconTransformation(extent={{90,-10},{110,10}})));
  Movrel.Rotational.Gear gear(i=i) "Fixed gear"
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
equation
  connect(a, gear.a);
  connect(gear.b, b);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-50,60},{50,-40}}, lineColor={40,44,60}),
      Text(extent={{-90,-46},{90,-92}}, textString="i = %i"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It has the ports of the tug's gearbox and takes its place in a scenario.</p></html>"));
end TugOneSpeed;
