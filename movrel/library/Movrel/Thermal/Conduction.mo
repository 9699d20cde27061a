within Movrel.Thermal;
model Conduction "Heat conduction by its conductance"
  import Movrel.Units.*;
  parameter ThermalConductance G(min=0) = 1 "Conductance: conductivity times area over thickness";
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  Q = G*(a.T - b.T);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-60,50},{60,-50}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-40,50},{-60,20}}, color={136,64,50}),
      Line(points={{0,50},{-60,-35}}, color={136,64,50}),
      Line(points={{40,50},{-50,-50}}, color={136,64,50}),
      Line(points={{60,20},{-5,-50}}, color={136,64,50}),
      Line(points={{60,-30},{40,-50}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%G")}),
    Documentation(info="<html><p>Fourier: <i>Q = G (T_a - T_b)</i></p></html>"),
    __Movrel(synonyms={"thermal resistance", "conductor", "heat bridge"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end Conduction;
