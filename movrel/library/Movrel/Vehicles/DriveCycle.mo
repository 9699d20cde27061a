within Movrel.Vehicles;
block DriveCycle "Drive cycle: speed over time from a table, and the speed ahead"
  import Movrel.Units.*;
  parameter Real table[:, :] = [0, 0; 5, 0; 15, 10; 30, 10; 40, 0; 50, 0] "Times in s, rising, and speeds in m/s";
  parameter Time ahead(min=0) = 0.8 "How far the second output looks ahead";
  Movrel.Signals.SignalOut v(unit="m/s") "Speed now" annotation (Placement(transformation(extent={{100,30},{120,50}})));
  Movrel.Signals.SignalOut v_ahead(unit="m/s") "Speed ahead" annotation (Placement(transformation(extent={{100,-50},{120,-30}})));
equation
  v = Movrel.Tables.linear(table, time);
  v_ahead = Movrel.Tables.linear(table, time + ahead);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-60},{-50,-60},{-20,30},{20,30},{40,-10},{60,-10},{80,-60}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Straight lines between the points, held before and after.</p></html>"),
    __Movrel(preview="curve", synonyms={"speed profile", "driving cycle", "speed table"}, source="Definition"));
end DriveCycle;
