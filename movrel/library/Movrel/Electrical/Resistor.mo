within Movrel.Electrical;
model Resistor "Resistor"
  import Movrel.Units.*;
  extends TwoTerminals;
  extends Movrel.Thermal.Dissipation;
  parameter Resistance R(start=1) = 1 "Resistance";
equation
  assert(R >= 0, "the resistance is negative: it would deliver power", AssertionLevel.warning);
  v = R*i;
  loss = v*i;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Rectangle(extent={{-60,25},{60,-25}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%R")}),
    Documentation(info="<html><p>Ohm: <i>v = R i</i></p></html>"),
    __Movrel(synonyms={"ohmic", "load"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Resistor;
