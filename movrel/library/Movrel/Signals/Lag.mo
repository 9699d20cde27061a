within Movrel.Signals;
block Lag "First-order lag"
  parameter Real k = 1 "Steady gain";
  parameter Movrel.Units.Time T(min=1e-12) = 1 "Time constant";
  parameter Real y_start = 0 "Value at the start";
  SignalIn u "What is followed" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y(start=y_start, fixed=true) "Follows with delay" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  T*der(y) + y = k*u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-70,70},{-70,-70},{70,-70}}, color={40,44,60}),
      Line(points={{-70,-70},{-50,-20},{-20,20},{20,42},{70,50}}, color={40,44,60}, smooth=Smooth.Bezier),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="T %T")}),
    Documentation(info="<html><p><i>T dy/dt + y = k u</i></p></html>"),
    __Movrel(synonyms={"first order", "low-pass", "PT1", "delay element"}, source="Föllinger, Regelungstechnik"));
end Lag;
