within Movrel.Thermal;
model CylinderWall "Wall of a tube, steady"
  import Movrel.Units.*;
  parameter Length l(min=1e-9) = 1 "Length";
  parameter Length r_a(min=1e-9) = 0.01 "Inner radius, at a";
  parameter Length r_b(min=1e-9) = 0.012 "Outer radius, at b";
  parameter ThermalConductivity k(min=1e-9) = 50 "Conductivity";
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  assert(r_b > r_a, "the outer radius r_b must be above the inner radius r_a");
  a.Q = Q;
  b.Q = -Q;
  Q = 2*pi*l*k*(a.T - b.T)/log(r_b/r_a);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-36,36},{36,-36}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>Q = 2 π l k (T_a - T_b)/ln(r_b/r_a)</i></p></html>"),
    __Movrel(synonyms={"pipe", "insulation", "tube"}, source="VDI Heat Atlas, 2nd ed. 2010"));
end CylinderWall;
