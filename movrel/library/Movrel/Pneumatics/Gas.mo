within Movrel.Pneumatics;
model Gas "Gas of a circuit and the air around it"
  import Movrel.Units.*;
  parameter GasKind kind = GasKind.air "Gas";
  parameter Temperature T_ambient = 293.15 "Temperature of the surroundings";
  parameter Pressure p_ambient(min=1, displayUnit="bar") = 101325 "Pressure of the surroundings";
  parameter Real R_s(unit="J/(kg.K)", min=1) = of_kind[Integer(kind), 1] "Specific gas constant" annotation (Dialog(group="Data of the gas"));
  parameter Ratio kappa(min=1.001, max=1.7) = of_kind[Integer(kind), 2] "Ratio of the heat capacities" annotation (Dialog(group="Data of the gas"));
  final parameter SpecificHeatCapacity c_p = kappa/(kappa - 1)*R_s "Specific heat capacity at constant pressure";
  final parameter SpecificHeatCapacity c_v = R_s/(kappa - 1) "Specific heat capacity at constant volume";
  final parameter Density rho_0 = 1e5/(R_s*293.15) "Density at 1 bar and 20 °C";
  Density rho_ambient "Density of the surroundings";
protected
  constant Real of_kind[4, 2] = [
    287.05, 1.4;
    296.8, 1.4;
    188.92, 1.3;
    2077.1, 1.667] "Gas constant and ratio of heat capacities, by kind";
equation
  rho_ambient = p_ambient/(R_s*T_ambient);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-40,26},{40,-26}}, textString="gas"),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p>Ideal gas: <i>p V = m R_s T</i> with constant heat capacities. One gas serves all pneumatic parts of the model, or of the assembly in which it stands.</p></html>"),
    __Movrel(synonyms={"medium", "fluid", "air", "nitrogen", "ambient"}, source="Baehr and Kabelac, Thermodynamik, on ideal gases"),
    defaultComponentName="gas",
    defaultComponentPrefixes="inner",
    missingInnerMessage="The model has pneumatic parts but no gas: air at 20 °C is taken. Put the part Gas on the sheet to choose another.");
end Gas;
