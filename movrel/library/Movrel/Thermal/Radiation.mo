within Movrel.Thermal;
model Radiation "Heat radiation between two surfaces"
  import Movrel.Units.*;
  parameter Area A(min=0) = 1 "Area of the radiating surface";
  parameter Ratio eps(min=0, max=1) = 0.9 "Emissivity, with that of the surroundings";
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  Q = eps*A*sigma_SB*(a.T^4 - b.T^4);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-60,60},{-40,-60}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{40,60},{60,-60}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-30,30},{-16,44},{-2,16},{12,44},{30,30}}, color={136,64,50}),
      Line(points={{-30,-20},{-16,-6},{-2,-34},{12,-6},{30,-20}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%eps")}),
    Documentation(info="<html><p>Stefan and Boltzmann: <i>Q = eps A σ (T_a⁴ - T_b⁴)</i></p></html>"),
    __Movrel(synonyms={"emissivity", "sky", "glow"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end Radiation;
