within Movrel.Signals;
block Clock "Time since the start, or since another moment"
  import Movrel.Units.*;
  parameter Movrel.Units.Time t_0 = 0 "Moment from which it counts";
  SignalOut y(unit="s") "Time" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = time - t_0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,0},{0,44}}, color={40,44,60}),
      Line(points={{0,0},{30,-14}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = t - t_0</i></p></html>"),
    __Movrel(synonyms={"time", "timer"}, source="Definition"));
end Clock;
