within Movrel.Electrical;
model IdealOpAmp "Operational amplifier without limits"
  Terminal p "Non-inverting input" annotation (Placement(transformation(extent={{-110,-60},{-90,-40}})));
  Terminal n "Inverting input" annotation (Placement(transformation(extent={{-110,40},{-90,60}})));
  Terminal out "Output" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  p.i = 0;
  n.i = 0;
  p.v = n.v;
  annotation (
    Icon(graphics={
      Polygon(points={{-80,90},{-80,-90},{90,0},{-80,90}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,50},{-80,50}}, color={40,44,60}),
      Line(points={{-100,-50},{-80,-50}}, color={40,44,60}),
      Line(points={{90,0},{100,0}}, color={40,44,60}),
      Text(extent={{-76,66},{-40,34}}, textString="−"),
      Text(extent={{-76,-34},{-40,-66}}, textString="+"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-30,20},{40,-20}}, textString="∞")}),
    Documentation(info="<html><p>No input current and no input voltage: the output does whatever that takes. It needs feedback</p></html>"),
    __Movrel(synonyms={"operational amplifier", "nullor"}, source="Tietze and Schenk, Halbleiter-Schaltungstechnik"));
end IdealOpAmp;
