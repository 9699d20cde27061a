within Movrel.Signals;
block TransportDelay "The same signal, later"
  import Movrel.Units.*;
  parameter Movrel.Units.Time T(min=0) = 1 "How much later";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = delay(u, T);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-50},{-50,50},{-20,-20}}, color={40,44,60}),
      Line(points={{10,-50},{40,50},{70,-20}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%T")}),
    Documentation(info="<html><p><i>y(t) = u(t - T); before T the value at the start</i></p></html>"),
    __Movrel(synonyms={"dead time", "transport lag", "delay", "pure delay"}, source="Definition"));
end TransportDelay;
