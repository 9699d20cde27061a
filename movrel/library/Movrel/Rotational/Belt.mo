within Movrel.Rotational;
model Belt "Belt or chain between two pulleys, elastic"
  import Movrel.Units.*;
  parameter Length r_a(min=1e-9) = 0.05 "Radius of the pulley on a";
  parameter Length r_b(min=1e-9) = 0.1 "Radius of the pulley on b";
  parameter TranslationalStiffness c(min=0) = 1e5 "Stiffness of both strands";
  parameter TranslationalDamping d(min=0) = 100 "Damping of both strands";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length stretch "Stretch of the pulling strand";
  Force F "Force that it transmits";
equation
  stretch = r_a*a.phi - r_b*b.phi;
  F = c*stretch + d*der(stretch);
  a.tau = r_a*F;
  b.tau = -r_b*F;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-100,30},{-40,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{0,50},{100,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-70,30},{50,50}}, color={40,44,60}),
      Line(points={{-70,-30},{50,-50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%r_a : %r_b")}),
    Documentation(info="<html><p><i>F = c (r_a phi_a - r_b phi_b) + d d/dt(...)</i></p></html>"),
    __Movrel(synonyms={"chain", "pulley", "toothed belt", "timing belt"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end Belt;
