within Movrel.Electrical;
model ThreePhaseVoltage "Three alternating voltages, a third of a period apart, in star"
  import Movrel.Units.*;
  parameter Voltage V_line = 400 "Effective value between the lines";
  parameter Frequency f(min=0) = 50 "Frequency";
  parameter Angle phase(displayUnit="deg") = 0 "Phase of the first line";
  Terminal n "Star point" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Terminal line[3] "Lines" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  for k in 1:3 loop
    line[k].v - n.v = sqrt(2/3)*V_line*sin(2*pi*f*time + phase - 2*pi*(k - 1)/3);
  end for;
  n.i + sum(line.i) = 0;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-55,40},{55,-40}}, textString="3 ~"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%V_line")}),
    Documentation(info="<html><p><i>v_k = √(2/3) V_line sin(2 π f t + phase - 2 π (k - 1)/3)</i></p></html>"),
    __Movrel(synonyms={"AC", "mains", "grid", "three-phase", "rotary current"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end ThreePhaseVoltage;
