within Movrel.Translational;
model SpringDamper "Spring and damper side by side"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter TranslationalStiffness c(min=0) = 1000 "Stiffness";
  parameter TranslationalDamping d(min=0) = 1 "Damping constant";
  parameter Length s_0 = 0 "Length without force";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length s_rel "Distance of the ends";
  Velocity v_rel "Speed of b against a";
  Force f "Force that it transmits";
equation
  s_rel = b.s - a.s;
  v_rel = der(s_rel);
  a.f = -f;
  b.f = f;
  f = c*(s_rel - s_0) + d*v_rel;
  loss = d*v_rel^2;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-80,0},{-80,40},{-60,40},{-50,70},{-30,10},{-10,70},{10,10},{30,70},{50,10},{60,40},{80,40},{80,0},{100,0}}, color={40,44,60}),
      Line(points={{-80,0},{-80,-40},{-30,-40}}, color={40,44,60}),
      Line(points={{40,-15},{-30,-15},{-30,-65},{40,-65}}, color={40,44,60}),
      Line(points={{5,-22},{5,-58}}, color={40,44,60}, thickness=0.5),
      Line(points={{5,-40},{80,-40},{80,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%c")}),
    Documentation(info="<html><p><i>f = c (s_rel - s_0) + d v_rel</i> (Kelvin and Voigt)</p></html>"),
    __Movrel(synonyms={"suspension", "mount", "compliance", "elastic shaft"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end SpringDamper;
