within Movrel.Electrical;
model Star "Star connection of three resistors with inductance"
  import Movrel.Units.*;
  parameter Resistance R(min=1e-9) = 1 "Resistance of a phase";
  parameter Inductance L(min=1e-15) = 1e-6 "Inductance of a phase";
  Terminal line[3] "Lines" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Terminal n "Star point" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Current i[3](each start=0, each stateSelect=StateSelect.prefer) "Currents of the phases";
equation
  i = line.i;
  for k in 1:3 loop
    line[k].v - n.v = R*i[k] + L*der(i[k]);
  end for;
  n.i + sum(i) = 0;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{0,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,0},{100,0}}, color={40,44,60}),
      Line(points={{0,0},{-30,50}}, color={40,44,60}),
      Line(points={{0,0},{-30,-50}}, color={40,44,60}),
      Ellipse(extent={{-4,4},{4,-4}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-60,80},{60,50}}, textString="3 ×"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%R")}),
    Documentation(info="<html><p><i>v = R i + L di/dt</i> in each of three phases</p></html>"),
    __Movrel(synonyms={"three-phase load", "Y"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Star;
