within Movrel.Hydraulics;
connector OilPort "Opening through which oil flows"
  Movrel.Units.Pressure p(displayUnit="bar", nominal=1e5) "Pressure above the surrounding air";
  flow Movrel.Units.VolumeFlowRate q(displayUnit="l/min", nominal=1e-4) "Flow into the part, as volume at ambient pressure: mass over density";
  annotation (
    Icon(graphics={Ellipse(extent={{-100,100},{100,-100}}, lineColor={70,76,138}, fillColor={70,76,138}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="hydraulic"));
end OilPort;
