within Movrel.Thermal;
connector ThermalNode "Place at which heat flows"
  import Movrel.Units.*;
  Temperature T "Temperature";
  flow HeatFlowRate Q "Heat flow into the part";
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={136,64,50}, fillColor={136,64,50}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="thermal"));
end ThermalNode;
