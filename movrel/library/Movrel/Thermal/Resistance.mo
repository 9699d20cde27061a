within Movrel.Thermal;
model Resistance "Heat conduction by its thermal resistance"
  import Movrel.Units.*;
  parameter ThermalResistance R(min=1e-15) = 1 "Thermal resistance";
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  R*Q = a.T - b.T;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-60,25},{60,-25}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%R")}),
    Documentation(info="<html><p><i>R Q = T_a - T_b</i></p></html>"),
    __Movrel(synonyms={"junction to case", "heat sink", "insulation", "contact"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end Resistance;
