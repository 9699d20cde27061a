within Movrel.Process.Mixtures;
connector MixturePort "Opening through which a liquid with species and heat flows"
  import Movrel.Units.*;
  parameter Integer n = 1 "Number of species";
  Pressure p "Pressure above the surrounding air";
  flow MassFlowRate m "Mass flow into the part";
  stream SpecificEnthalpy h "Specific enthalpy of what flows out of the part";
  stream Real c[n](each unit="mol/kg") "Moles of each species in a kilogram of what flows out";
  annotation (
    Icon(graphics={
      Ellipse(extent={{-100,100},{100,-100}}, lineColor={38,106,118}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={38,106,118}, fillColor={38,106,118}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="process liquid"));
end MixturePort;
