within Movrel.Electrical;
model Ammeter "Measures a current"
  import Movrel.Units.*;
  extends TwoTerminals;
  Movrel.Signals.SignalOut y(unit="A") "Current from a to b" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  v = 0;
  y = i;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-40,34},{40,-34}}, textString="A"),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{0,-50},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It takes no voltage.</p></html>"),
    __Movrel(synonyms={"measure", "sensor", "current"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Ammeter;
