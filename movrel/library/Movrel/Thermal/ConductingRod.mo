within Movrel.Thermal;
model ConductingRod "Rod that conducts and stores heat, in cells"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 10 "Number of cells";
  parameter Length l(min=1e-9) = 1 "Length";
  parameter Area A(min=1e-12) = 1e-4 "Cross-section";
  parameter ThermalConductivity k(min=1e-9) = 50 "Conductivity";
  parameter Density rho(min=1e-9) = 7800 "Density";
  parameter SpecificHeatCapacity c(min=1e-9) = 460 "Specific heat";
  parameter Temperature T_start = 293.15 "Temperature at the start";
  HeatPort a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  HeatPort b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Temperature T[n](each start=T_start, each fixed=true) "Temperatures of the cells";
protected
  parameter ThermalConductance G = k*A*n/l "Conductance between the middles of two cells";
  parameter Movrel.Units.HeatCapacity C = rho*c*A*l/n "Heat capacity of a cell";
  HeatFlowRate Q[n + 1] "Heat flows through the faces, from a to b";
equation
  Q[1] = 2*G*(a.T - T[1]);
  for j in 2:n loop
    Q[j] = G*(T[j - 1] - T[j]);
  end for;
  Q[n + 1] = 2*G*(T[n] - b.T);
  for j in 1:n loop
    C*der(T[j]) = Q[j] - Q[j + 1];
  end for;
  a.Q = Q[1];
  b.Q = -Q[n + 1];
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-80,0}}, color={136,64,50}),
      Line(points={{80,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-80,30},{80,-30}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-48,30},{-48,-30}}, color={136,64,50}),
      Line(points={{-16,30},{-16,-30}}, color={136,64,50}),
      Line(points={{16,30},{16,-30}}, color={136,64,50}),
      Line(points={{48,30},{48,-30}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="n = %n")}),
    Documentation(info="<html><p><i>ρ c A dT/dt = k A d²T/dx²</i> in n finite volumes</p></html>"),
    __Movrel(synonyms={"1-D", "heat equation", "bar", "finite volumes", "slab"}, source="VDI Heat Atlas, 2nd ed. 2010"));
end ConductingRod;
