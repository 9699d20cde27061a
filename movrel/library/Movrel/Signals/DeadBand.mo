within Movrel.Signals;
block DeadBand "Nothing within a band, beyond it the distance from it"
  parameter Real u_max = 0.1 "Upper end of the band";
  parameter Real u_min = -0.1 "Lower end of the band";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  assert(u_max >= u_min, "u_max must not be below u_min");
  y = if u > u_max then u - u_max elseif u < u_min then u - u_min else 0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-25,0},{25,0},{80,60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%u_min to %u_max")}),
    Documentation(info="<html><p><i>y = u - u_max above, u - u_min below, 0 between</i></p></html>"),
    __Movrel(synonyms={"dead zone", "insensitive"}, source="Definition"));
end DeadBand;
