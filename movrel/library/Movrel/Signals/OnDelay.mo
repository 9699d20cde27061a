within Movrel.Signals;
block OnDelay "True once the input has been true for a time"
  import Movrel.Units.*;
  parameter Movrel.Units.Time T(min=0) = 1 "How long";
  LogicIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  LogicOut y "Result" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  discrete Movrel.Units.Time since(start=0, fixed=true) "When the input became true";
equation
  when u then
    since = time;
  end when;
  y = u and time >= since + T;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="t ▷"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%T")}),
    Documentation(info="<html><p><i>y is true when u has been true for T</i></p></html>"),
    __Movrel(synonyms={"timer", "delay on", "dwell"}, source="IEC 61131-3, on-delay timer"));
end OnDelay;
