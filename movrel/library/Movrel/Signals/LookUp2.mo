within Movrel.Signals;
block LookUp2 "Value from a table by two arguments"
  import Movrel.Units.*;
  parameter Real table[:, :] = [0, 0, 1; 0, 0, 1; 1, 1, 2] "First argument down the first column, second across the first row, values inside";
  SignalIn u_1 "First argument" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn u_2 "Second argument" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  SignalOut y "Value" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = Movrel.Tables.linear2(table, u_1, u_2);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-70},{-80,70}}, color={40,44,60}),
      Line(points={{-80,-70},{80,-70}}, color={40,44,60}),
      Line(points={{-70,-50},{0,-10},{70,5}}, color={40,44,60}),
      Line(points={{-70,-30},{0,20},{70,35}}, color={40,44,60}),
      Line(points={{-70,-10},{0,45},{70,62}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Straight lines in both arguments; the outermost values hold beyond.</p></html>"),
    __Movrel(preview="map", synonyms={"map", "characteristic field", "table", "interpolation", "2D"}, source="Definition"));
end LookUp2;
