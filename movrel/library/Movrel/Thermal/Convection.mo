within Movrel.Thermal;
model Convection "Heat transfer between a surface and a fluid"
  import Movrel.Units.*;
  parameter HeatTransferCoefficient h(min=0) = 10 "Heat transfer coefficient";
  parameter Area A(min=0) = 1 "Area of the surface";
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  Q = h*A*(a.T - b.T);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-60,60},{-40,-60}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-20,40},{0,52},{20,40},{40,52},{60,40}}, color={136,64,50}),
      Line(points={{-20,0},{0,12},{20,0},{40,12},{60,0}}, color={136,64,50}),
      Line(points={{-20,-40},{0,-28},{20,-40},{40,-28},{60,-40}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%h")}),
    Documentation(info="<html><p>Newton: <i>Q = h A (T_a - T_b)</i></p></html>"),
    __Movrel(synonyms={"cooling", "film", "natural convection", "heat transfer"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end Convection;
