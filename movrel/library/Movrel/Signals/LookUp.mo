within Movrel.Signals;
block LookUp "Value from a table by one argument"
  import Movrel.Units.*;
  parameter Real table[:, :] = [0, 0; 1, 1] "Argument in the first column, rising, and values";
  parameter Integer column(min=2) = 2 "Column of the value";
  parameter Boolean smooth = false "A smooth curve through the points instead of straight lines";
  SignalIn u "Argument" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Value" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  assert(column <= size(table, 2), "column is beyond the table");
  y = if smooth then Movrel.Tables.cubic(table, u, column) else Movrel.Tables.linear(table, u, column);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-70},{-80,70}}, color={40,44,60}),
      Line(points={{-80,-70},{80,-70}}, color={40,44,60}),
      Line(points={{-70,-50},{-30,-20},{10,40},{70,55}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Straight lines between the points, or a smooth curve that does not overshoot; the first and the last value hold beyond.</p></html>"),
    __Movrel(preview="curve", synonyms={"map", "curve", "characteristic", "table", "interpolation"}, source="Definition; Fritsch and Carlson, SIAM J. Numer. Anal. 17 (1980) 238"));
end LookUp;
