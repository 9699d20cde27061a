within Movrel.Signals;
block TimeTable "Signal given by points in time"
  parameter Real table[:, 2] = [0, 0; 1, 1] "Times in s, rising, and values";
  RealOutput y "The value between the points, on straight lines; held outside" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = Movrel.Tables.linear(table, time);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-50,20},{-10,-10},{30,60},{80,40}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Straight lines between the points; before the first and after the last point the value is held.</p></html>"),
    __Movrel(synonyms={"profile", "measured", "look-up", "time series"}));
end TimeTable;
