within Movrel.Signals;
block PointTable "Signal given by points in time"
  import Movrel.Units.*;
  parameter Real table[:, :] = [0, 0; 1, 1] "Times in s, rising, and values";
  parameter Integer column(min=2) = 2 "Column of the value";
  parameter Between between = Between.straight "What it does between the points" annotation (Dialog(group="Between and beyond"));
  parameter Boolean cyclic = false "Whether it begins again after the last point" annotation (Dialog(group="Between and beyond"));
  parameter Real scale = 1 "Factor for the values";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  parameter Integer n = size(table, 1) "Number of points";
  Movrel.Units.Time t "Time within the table";
equation
  t = if cyclic then table[1, 1] + mod(time - table[1, 1], table[n, 1] - table[1, 1]) else time;
  if between == Between.straight then
    y = scale*Movrel.Tables.linear(table, t, column);
  elseif between == Between.hold then
    y = scale*Movrel.Tables.hold(table, t, column);
  else
    y = scale*Movrel.Tables.cubic(table, t, column);
  end if;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-50,20},{-10,-10},{30,60},{80,40}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>The points are joined by straight lines, held, or led through by a smooth curve that does not overshoot. Before the first and after the last point the value is held, or the table begins again.</i></p></html>"),
    __Movrel(preview="curve", synonyms={"profile", "measured", "look-up", "time series", "schedule", "lookup", "lookup table", "map", "characteristic", "curve"}, source="Fritsch and Butland, SIAM J. Sci. Stat. Comput. 5 (1984) 300, for the smooth curve"));
end PointTable;
