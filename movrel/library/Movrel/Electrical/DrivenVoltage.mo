within Movrel.Electrical;
model DrivenVoltage "Voltage driven by a signal"
  import Movrel.Units.*;
  extends TwoTerminals;
  Movrel.Signals.SignalIn u(unit="V") "Voltage" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  v = u;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{-50,0},{50,0}}, color={40,44,60}),
      Line(points={{0,100},{0,50}}, color={40,44,60}),
      Text(extent={{-100,60},{-60,20}}, textString="+"),
      Text(extent={{60,60},{100,20}}, textString="−"),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>v</i> is the signal</p></html>"),
    __Movrel(synonyms={"controlled source", "amplifier"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end DrivenVoltage;
