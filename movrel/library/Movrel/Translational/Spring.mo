within Movrel.Translational;
model Spring "Spring, straight characteristic"
  import Movrel.Units.*;
  parameter TranslationalStiffness c(min=0) = 1000 "Stiffness";
  parameter Length s_0 = 0 "Length without force";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Force f "Force that pulls the ends together";
equation
  f = c*(b.s - a.s - s_0);
  a.f = -f;
  b.f = f;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0},{-50,40},{-30,-40},{-10,40},{10,-40},{30,40},{50,-40},{60,0},{100,0}}, color={40,44,60}, thickness=0.25),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%c")}),
    Documentation(info="<html><p><i>f = c (s_b - s_a - s_0)</i></p></html>"),
    __Movrel(synonyms={"stiffness", "elastic", "coil"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Spring;
