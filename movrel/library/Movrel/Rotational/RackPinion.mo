within Movrel.Rotational;
model RackPinion "Pinion on a rack: rotation to translation"
  import Movrel.Units.*;
  parameter Length r(min=1e-9) = 0.05 "Radius of the pinion";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Translational.Rod b "Rack" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.s = r*a.phi;
  a.tau = -r*b.f;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,80},{50,-20}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-30},{100,-30}}, color={40,44,60}, thickness=0.5),
      Line(points={{-70,-30},{-60,-20},{-50,-30},{-40,-20},{-30,-30},{-20,-20},{-10,-30},{0,-20},{10,-30},{20,-20},{30,-30},{40,-20},{50,-30}}, color={40,44,60}),
      Line(points={{-100,0},{-80,30},{0,30}}, color={40,44,60}, thickness=0.5),
      Line(points={{90,-30},{90,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%r")}),
    Documentation(info="<html><p><i>s = r phi</i>, <i>tau = -r f</i></p></html>"),
    __Movrel(synonyms={"drum", "spindle", "winch drum", "linear drive"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end RackPinion;
