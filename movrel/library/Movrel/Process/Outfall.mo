within Movrel.Process;
model Outfall "Open water that takes whatever flows in"
  parameter Movrel.Units.Pressure p = 0 "Pressure above the surrounding air";
  Movrel.Units.Volume discharged(start=0, fixed=true) "Volume received since the start";
  LiquidPort port "Where the liquid arrives" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
equation
  port.p = p;
  der(discharged) = port.q;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-50,0},{-50,-16}}, color={38,106,118}, thickness=0.5),
      Line(points={{-90,-36},{-60,-24},{-30,-36},{0,-24},{30,-36},{60,-24},{90,-36}}, color={38,106,118}, thickness=0.5, smooth=Smooth.Bezier),
      Line(points={{-66,-58},{-36,-46},{-6,-58},{24,-46},{54,-58}}, color={38,106,118}, smooth=Smooth.Bezier),
      Line(points={{-36,-78},{-6,-66},{24,-78}}, color={38,106,118}, smooth=Smooth.Bezier),
      Text(extent={{-150,60},{150,20}}, textString="%name")}),
    Documentation(info="<html><p><i>p</i> is given; it counts what has flowed in: <i>d discharged/dt = q</i></p></html>"),
    __Movrel(synonyms={"sink", "drain", "sea", "boundary"}, source="Definition"));
end Outfall;
