within Movrel.Pneumatics;
connector GasPort "Opening through which gas flows"
  Movrel.Units.Pressure p(displayUnit="bar", start=101325, nominal=1e5) "Absolute pressure";
  flow Movrel.Units.MassFlowRate m(displayUnit="g/s", nominal=1e-3) "Mass flow into the part";
  stream Movrel.Units.SpecificEnthalpy h(nominal=3e5) "Specific enthalpy of what flows out of the part";
  annotation (
    Icon(graphics={Ellipse(extent={{-100,100},{100,-100}}, lineColor={56,104,136}, fillColor={56,104,136}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="pneumatic"));
end GasPort;
