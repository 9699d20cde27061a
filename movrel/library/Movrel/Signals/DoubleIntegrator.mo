within Movrel.Signals;
block DoubleIntegrator "Position from acceleration, between two stops if there are any"
  import Movrel.Units.*;
  parameter Real x_start = 0 "Position at the start";
  parameter Real v_start = 0 "Speed at the start";
  parameter Real x_max = 1e60 "Upper stop; 1e60 for none";
  parameter Real x_min = -1e60 "Lower stop; -1e60 for none";
  parameter Real e(min=0, max=1) = 0 "Part of the speed that is left after a stop was hit";
  SignalIn u "Acceleration" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Position" annotation (Placement(transformation(extent={{100,30},{120,50}})));
  SignalOut v(start=v_start, fixed=true) "Speed" annotation (Placement(transformation(extent={{100,-50},{120,-30}})));
  Real x(start=x_start, fixed=true) "Position";
  Boolean up(start=false, fixed=true) "Whether it rests at the upper stop";
  Boolean down(start=false, fixed=true) "Whether it rests at the lower stop";
equation
  assert(x_max > x_min, "x_max must be above x_min");
  y = x;
  der(x) = if up or down then 0 else v;
  der(v) = if up or down then 0 else u;
  when x > x_max and v > 0 then
    reinit(v, if e > 0 and v > 1e-4*(x_max - x_min) then -e*v else 0);
  elsewhen x < x_min and v < 0 then
    reinit(v, if e > 0 and -v > 1e-4*(x_max - x_min) then -e*v else 0);
  end when;
  up = (pre(up) or (x >= x_max and v <= 1e-4*(x_max - x_min)*(if e > 0 then 1 else 0) and v >= 0)) and u > 0;
  down = (pre(down) or (x <= x_min and -v <= 1e-4*(x_max - x_min)*(if e > 0 then 1 else 0) and v <= 0)) and u < 0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,50},{90,-60}}, textString="∬"),
      Line(points={{20,70},{80,70}}, color={40,44,60}),
      Line(points={{-80,-70},{-20,-70}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%x_min to %x_max")}),
    Documentation(info="<html><p><i>dx/dt = v, dv/dt = u; at a stop the speed is reversed and reduced to the part e, and it rests there while u presses</i></p></html>"),
    __Movrel(synonyms={"position", "end stop", "travel", "1/s²"}, source="Definition"));
end DoubleIntegrator;
