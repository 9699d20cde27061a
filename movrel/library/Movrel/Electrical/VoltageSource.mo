within Movrel.Electrical;
model VoltageSource "Constant voltage"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Voltage V = 1 "Voltage";
equation
  v = V;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{-50,0},{50,0}}, color={40,44,60}),
      Text(extent={{-100,60},{-60,20}}, textString="+"),
      Text(extent={{60,60},{100,20}}, textString="−"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%V")}),
    Documentation(info="<html><p><i>v = V</i></p></html>"),
    __Movrel(synonyms={"DC", "supply", "nominal voltage", "rated voltage", "EMF"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end VoltageSource;
