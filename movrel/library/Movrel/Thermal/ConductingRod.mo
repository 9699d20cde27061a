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
  ThermalNode a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
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
      Line(points=DynamicSelect({{-64,30},{-64,-30}}, if n > 1 then {{-80 + 160/n,30},{-80 + 160/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{-48,30},{-48,-30}}, if n > 2 then {{-80 + 320/n,30},{-80 + 320/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{-32,30},{-32,-30}}, if n > 3 then {{-80 + 480/n,30},{-80 + 480/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{-16,30},{-16,-30}}, if n > 4 then {{-80 + 640/n,30},{-80 + 640/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{0,30},{0,-30}}, if n > 5 then {{-80 + 800/n,30},{-80 + 800/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{16,30},{16,-30}}, if n > 6 then {{-80 + 960/n,30},{-80 + 960/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{32,30},{32,-30}}, if n > 7 then {{-80 + 1120/n,30},{-80 + 1120/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{48,30},{48,-30}}, if n > 8 then {{-80 + 1280/n,30},{-80 + 1280/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{64,30},{64,-30}}, if n > 9 then {{-80 + 1440/n,30},{-80 + 1440/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 10 then {{-80 + 1600/n,30},{-80 + 1600/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 11 then {{-80 + 1760/n,30},{-80 + 1760/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 12 then {{-80 + 1920/n,30},{-80 + 1920/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 13 then {{-80 + 2080/n,30},{-80 + 2080/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 14 then {{-80 + 2240/n,30},{-80 + 2240/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 15 then {{-80 + 2400/n,30},{-80 + 2400/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 16 then {{-80 + 2560/n,30},{-80 + 2560/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 17 then {{-80 + 2720/n,30},{-80 + 2720/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 18 then {{-80 + 2880/n,30},{-80 + 2880/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Line(points=DynamicSelect({{80,30},{80,-30}}, if n > 19 then {{-80 + 3040/n,30},{-80 + 3040/n,-30}} else {{80,30},{80,-30}}), color={136,64,50}, thickness=0.15),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="n = %n")}),
    Documentation(info="<html><p><i>ρ c A dT/dt = k A d²T/dx²</i> in n finite volumes</p></html>"),
    __Movrel(synonyms={"1-D", "heat equation", "bar", "finite volumes", "slab"}, source="VDI Heat Atlas, 2nd ed. 2010"));
end ConductingRod;
