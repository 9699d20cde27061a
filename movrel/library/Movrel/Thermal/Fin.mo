within Movrel.Thermal;
model Fin "Fin cooled along its length, steady"
  import Movrel.Units.*;
  parameter Length l(min=1e-9) = 0.05 "Length";
  parameter Length U(min=1e-9) = 0.1 "Perimeter of the cross-section";
  parameter Area A(min=1e-12) = 1e-4 "Cross-section";
  parameter ThermalConductivity k(min=1e-9) = 200 "Conductivity";
  parameter HeatTransferCoefficient h(min=0) = 20 "Heat transfer coefficient of the surface";
  ThermalNode a "Root" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Fluid around it" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  final parameter Real m(unit="1/m") = sqrt(h*U/(k*A)) "Decay along the fin";
  final parameter ThermalConductance G = sqrt(h*U*k*A)*tanh(m*l) "Conductance from root to fluid";
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  Q = G*(a.T - b.T);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-70,0}}, color={136,64,50}),
      Rectangle(extent={{-70,80},{-50,-80}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-50,20},{60,-20}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={136,64,50}, pattern=LinePattern.Dash),
      Line(points={{-30,34},{-30,56}}, color={136,64,50}),
      Line(points={{0,34},{0,56}}, color={136,64,50}),
      Line(points={{30,34},{30,56}}, color={136,64,50}),
      Line(points={{-30,-34},{-30,-56}}, color={136,64,50}),
      Line(points={{0,-34},{0,-56}}, color={136,64,50}),
      Line(points={{30,-34},{30,-56}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>Q = √(h U k A) tanh(m l) (T_root - T_fluid)</i>, <i>m = √(h U/(k A))</i>; no heat leaves through the tip</p></html>"),
    __Movrel(synonyms={"heat sink", "cooling rib", "extended surface"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer, section 3.6"));
end Fin;
