within Movrel.Signals;
block DeadBand "Nothing within a band, beyond it the distance from it"
  parameter Real upper = 0.1 "Upper end of the band";
  parameter Real lower = -0.1 "Lower end of the band";
  RealInput u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  RealOutput y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  assert(upper >= lower, "upper must not be below lower");
  y = if u > upper then u - upper elseif u < lower then u - lower else 0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-25,0},{25,0},{80,60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%lower to %upper")}),
    Documentation(info="<html><p><i>y = u - upper above, u - lower below, 0 between</i></p></html>"),
    __Movrel(synonyms={"dead zone", "insensitive"}, source="Definition"));
end DeadBand;
