within Movrel.Electrical;
model CurrentSource "Constant current"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Current I = 1 "Current from a to b through the source";
equation
  i = I;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{0,50},{0,-50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%I")}),
    Documentation(info="<html><p><i>i = I</i> from a to b inside, so out of b</p></html>"),
    __Movrel(synonyms={"DC", "supply"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end CurrentSource;
