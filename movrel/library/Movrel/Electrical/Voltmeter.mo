within Movrel.Electrical;
model Voltmeter "Measures a voltage"
  import Movrel.Units.*;
  extends TwoTerminals;
  Movrel.Signals.SignalOut y(unit="V") "Voltage from a to b" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  i = 0;
  y = v;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-40,34},{40,-34}}, textString="V"),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{0,-50},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It takes no current.</p></html>"),
    __Movrel(synonyms={"measure", "sensor", "voltage"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Voltmeter;
