within Movrel.Translational;
model HeldRod "Point that does not move"
  import Movrel.Units.*;
  parameter Length s_0 = 0 "Where it is";
  Rod a "The point" annotation (Placement(transformation(extent={{-10,-10},{10,10}})));
equation
  a.s = s_0;
  annotation (
    Icon(graphics={
      Line(points={{-60,-40},{60,-40}}, color={40,44,60}, thickness=0.5),
      Line(points={{-60,-70},{-30,-40}}, color={40,44,60}),
      Line(points={{-20,-70},{10,-40}}, color={40,44,60}),
      Line(points={{20,-70},{50,-40}}, color={40,44,60}),
      Line(points={{0,0},{0,-40}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>s = s_0</i></p></html>"),
    __Movrel(synonyms={"ground", "wall", "anchor"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end HeldRod;
