within Movrel.Process;
connector LiquidPort "Opening through which an incompressible liquid flows"
  Movrel.Units.Pressure p "Pressure above the surrounding air";
  flow Movrel.Units.VolumeFlowRate q "Volume flow into the part";
  annotation (
    Icon(graphics={Ellipse(extent={{-100,100},{100,-100}}, lineColor={38,106,118}, fillColor={38,106,118}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="process liquid"));
end LiquidPort;
