within Movrel.Electrical;
model AlternatingVoltage "Alternating voltage"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Voltage V_rms = 230 "Effective value";
  parameter Frequency f(min=0) = 50 "Frequency";
  parameter Angle phase(displayUnit="deg") = 0 "Phase";
equation
  v = sqrt(2)*V_rms*sin(2*pi*f*time + phase);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{-30,0},{-15,24},{0,0}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{0,0},{15,-24},{30,0}}, color={40,44,60}, smooth=Smooth.Bezier),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%V_rms")}),
    Documentation(info="<html><p><i>v = √2 V_rms sin(2 π f t + phase)</i></p></html>"),
    __Movrel(synonyms={"AC", "mains", "grid"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end AlternatingVoltage;
