within Movrel.Translational;
model Lever "Lever about a fixed pivot"
  import Movrel.Units.*;
  parameter Length l_a(min=1e-9) = 1 "Arm on the side of a";
  parameter Length l_b(min=1e-9) = 0.5 "Arm on the side of b";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.s/l_b = -a.s/l_a;
  a.f*l_a = b.f*l_b;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={40,44,60}, thickness=1),
      Polygon(points={{0,0},{-24,-50},{24,-50},{0,0}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-40,-50},{40,-50}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%l_a : %l_b")}),
    Documentation(info="<html><p>Small angles: <i>s_b/l_b = -s_a/l_a</i>, <i>f_a l_a = f_b l_b</i></p></html>"),
    __Movrel(synonyms={"rocker", "beam", "seesaw"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Lever;
