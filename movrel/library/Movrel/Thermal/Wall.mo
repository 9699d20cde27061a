within Movrel.Thermal;
model Wall "Plane wall of layers, steady"
  import Movrel.Units.*;
  parameter Area A(min=1e-12) = 1 "Area";
  parameter Length d[:] = {0.1, 0.05} "Thickness of each layer";
  parameter ThermalConductivity k[size(d, 1)] = {1.0, 0.04} "Conductivity of each layer";
  final parameter ThermalResistance R = sum(d[j]/(max(k[j], 1e-15)*A) for j in 1:size(d, 1)) "Resistance of all layers";
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  assert(min(k) > 0, "the conductivity of each layer must be positive");
  R*Q = a.T - b.T;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-50,0}}, color={136,64,50}),
      Line(points={{50,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-50,80},{-10,-80}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-10,80},{50,-80}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-50,40},{-10,80}}, color={136,64,50}),
      Line(points={{-50,-20},{-10,20}}, color={136,64,50}),
      Line(points={{-50,-80},{-10,-40}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>R = Σ d/(k A)</i>, <i>R Q = T_a - T_b</i></p></html>"),
    __Movrel(synonyms={"insulation", "layers", "building", "cladding"}, source="VDI Heat Atlas, 2nd ed. 2010"));
end Wall;
