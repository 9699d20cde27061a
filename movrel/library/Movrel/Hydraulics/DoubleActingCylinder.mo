within Movrel.Hydraulics;
model DoubleActingCylinder "Cylinder that oil drives out and in"
  import Movrel.Units.*;
  extends TwoChambers(final A_a=pi*d_piston^2/4, final A_b=pi*(d_piston^2 - d_rod^2)/4);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,40},{80,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent=DynamicSelect({{-34,40},{-14,-40}}, {{-80 + 130*s/stroke,40},{-60 + 130*s/stroke,-40}}), lineColor={40,44,60}, fillColor={200,203,214}, fillPattern=FillPattern.Solid),
      Line(points=DynamicSelect({{-14,0},{100,0}}, {{-60 + 130*s/stroke,0},{100,0}}), color={40,44,60}, thickness=1),
      Line(points={{-60,-40},{-60,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{60,-40},{60,-100}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,90},{150,50}}, textString="%name")}),
    Documentation(info="<html><p><i>f = A_a p_a - A_b p_b</i>; <i>d(V/v(p))/dt = q</i> in each chamber. Seals that stick, leakage, cushions and stops as they are set.</p></html>"),
    __Movrel(synonyms={"actuator", "ram", "jack", "differential cylinder"}, source="Merritt, Hydraulic Control Systems, 1967, section 5-1; symbol ISO 1219-1"));
end DoubleActingCylinder;
