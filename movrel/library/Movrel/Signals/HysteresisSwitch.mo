within Movrel.Signals;
block HysteresisSwitch "On above one value, off below a lower one"
  parameter Real on = 1 "Value above which it switches on";
  parameter Real off = 0 "Value below which it switches off";
  parameter Boolean y_start = false "State at the start";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  LogicOut y(start=y_start, fixed=true) "Whether it is on" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  assert(on > off, "on must be above off");
  y = if pre(y) then u >= off else u > on;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-50},{40,-50},{40,50}}, color={40,44,60}),
      Line(points={{80,50},{-40,50},{-40,-50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%off / %on")}),
    Documentation(info="<html><p>on when u > on, off when u < off, else as before</p></html>"),
    __Movrel(synonyms={"two-point controller", "thermostat", "Schmitt trigger", "relay", "float switch", "hysteresis", "comparator"}, source="Definition"));
end HysteresisSwitch;
