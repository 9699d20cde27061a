within Movrel.Electrical;
model RectangularVoltage "Rectangular voltage that repeats"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Voltage V_on = 1 "Voltage of a pulse";
  parameter Voltage V_off = 0 "Voltage between pulses";
  parameter Time width(min=0) = 0.5e-3 "How long a pulse lasts";
  parameter Time period(min=1e-12) = 1e-3 "Time from one pulse to the next";
equation
  v = if mod(time, period) < width then V_on else V_off;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{-30,-16},{-16,-16},{-16,18},{6,18},{6,-16},{30,-16}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%V_on")}),
    Documentation(info="<html><p><i>V_on</i> during a pulse, else <i>V_off</i>; the flanks are events</p></html>"),
    __Movrel(synonyms={"square wave", "clock"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end RectangularVoltage;
