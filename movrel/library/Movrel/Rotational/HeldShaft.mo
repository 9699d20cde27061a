within Movrel.Rotational;
model HeldShaft "Shaft end that cannot turn"
  import Movrel.Units.*;
  parameter Angle phi_0(displayUnit="deg") = 0 "Angle at which it is held";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-10,-10},{10,10}})));
equation
  a.phi = phi_0;
  annotation (
    Icon(graphics={
      Line(points={{-60,-40},{60,-40}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,0},{0,-40}}, color={40,44,60}, thickness=0.5),
      Line(points={{-60,-70},{-30,-40}}, color={40,44,60}),
      Line(points={{-20,-70},{10,-40}}, color={40,44,60}),
      Line(points={{20,-70},{50,-40}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>phi = phi_0</i></p></html>"),
    __Movrel(synonyms={"ground", "clamp", "wall"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end HeldShaft;
