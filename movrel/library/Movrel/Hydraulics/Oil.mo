within Movrel.Hydraulics;
model Oil "Oil of a circuit: its grade, the air in it, its temperature"
  import Movrel.Units.*;
  parameter OilGrade grade = OilGrade.mineral_46 "Grade; the data below are those of this grade";
  parameter Temperature T_start = 313.15 "Temperature, or where it starts if it warms";
  parameter Ratio air(min=1e-5, max=0.5) = 0.005 "Free air at ambient pressure, as a share of the volume";
  parameter Boolean warms = false "The losses in the circuit warm it" annotation (Evaluate=true, Dialog(group="Heat"));
  parameter Volume V = 0.1 "Oil whose temperature is meant" annotation (Dialog(group="Heat", enable=warms));
  parameter SpecificHeatCapacity c_p(min=1) = of_grade[Integer(grade), 1] "Specific heat capacity" annotation (Dialog(group="Heat", enable=warms));
  parameter Density rho_15(min=1) = of_grade[Integer(grade), 2] "Density at 15 °C" annotation (Dialog(group="Data of the grade"));
  parameter Real expansion(unit="1/K", min=0) = of_grade[Integer(grade), 3] "Thermal expansion" annotation (Dialog(group="Data of the grade"));
  parameter KinematicViscosity nu_40(min=1e-9, displayUnit="mm2/s") = of_grade[Integer(grade), 4] "Kinematic viscosity at 40 °C" annotation (Dialog(group="Data of the grade"));
  parameter KinematicViscosity nu_100(min=1e-9, displayUnit="mm2/s") = of_grade[Integer(grade), 5] "Kinematic viscosity at 100 °C" annotation (Dialog(group="Data of the grade"));
  parameter Pressure K_40(min=1e6, displayUnit="bar") = of_grade[Integer(grade), 6] "Bulk modulus without air, at ambient pressure and 40 °C" annotation (Dialog(group="Data of the grade"));
  parameter Ratio m(min=2) = of_grade[Integer(grade), 7] "How much the bulk modulus grows with the pressure" annotation (Dialog(group="Data of the grade"));
  parameter Real softening(unit="1/K", min=0) = 0.005 "How much the bulk modulus falls with the temperature" annotation (Dialog(group="Data of the grade"));
  parameter Ratio n_air(min=1.01, max=1.67) = 1.4 "Polytropic exponent of the air in it" annotation (Dialog(group="Data of the grade"));
  parameter Pressure p_ambient(min=1000, displayUnit="bar") = 101325 "Pressure of the surroundings" annotation (Dialog(group="Data of the grade"));
  final parameter Pressure K(displayUnit="bar") = K_40*exp(-softening*(T_start - 313.15)) "Bulk modulus without air, at T_start";
  Movrel.Thermal.ThermalNode heat "Where the oil takes up and gives off heat" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Temperature T(start=T_start, stateSelect=StateSelect.prefer) "Temperature";
  HeatFlowRate Q "Heat that it takes up: the losses in the circuit and what is wired to it";
  Density rho "Density at ambient pressure";
  KinematicViscosity nu(displayUnit="mm2/s") "Kinematic viscosity";
  DynamicViscosity mu "Dynamic viscosity";
protected
  constant Real of_grade[6, 7] = [
    1900, 868, 7e-4, 32e-6, 5.4e-6, 1.55e9, 11;
    1900, 873, 7e-4, 46e-6, 6.8e-6, 1.6e9, 11;
    1900, 878, 7e-4, 68e-6, 8.7e-6, 1.65e9, 11;
    2000, 920, 7.5e-4, 46e-6, 9.4e-6, 1.75e9, 10.5;
    3200, 1080, 6e-4, 46e-6, 12e-6, 3.2e9, 7;
    2400, 1050, 8e-4, 7e-6, 2.2e-6, 1.85e9, 11] "Heat capacity, density, expansion, viscosities, bulk modulus and its growth, by grade";
  constant KinematicViscosity nu_unit = 1 "So that viscosities become numbers";
  constant Temperature T_40 = 313.15 "40 °C";
  parameter Real slope = (log10(log10(1e6*nu_40/nu_unit + 0.7)) - log10(log10(1e6*nu_100/nu_unit + 0.7)))/log10(373.15/313.15) "Slope of the viscosity line";
equation
  assert(nu_100 < nu_40, "the oil's viscosity nu_100 must be below nu_40");
  heat.T = T;
  heat.Q = Q;
  if warms then
    rho_15*V*c_p*der(T) = Q;
  else
    T = T_start;
  end if;
  rho = rho_15*(1 - expansion*(T - 288.15));
  nu = 1e-6*nu_unit*(10^(10^(log10(log10(1e6*nu_40/nu_unit + 0.7)) - slope*log10(T/T_40))) - 0.7);
  mu = rho*nu;
  annotation (
    Icon(graphics={
      Polygon(points={{0,70},{-44,-10},{-30,-50},{0,-62},{30,-50},{44,-10},{0,70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-40,14},{40,-40}}, textString="oil"),
      Line(points={{0,-62},{0,-100}}, color={136,64,50}),
      Text(extent={{-150,120},{150,80}}, textString="%name")}),
    Documentation(info="<html><p>Ubbelohde and Walther: <i>lg lg(ν/(mm²/s) + 0.7) = A - B lg T</i> through both viscosities; <i>ρ = ρ_15 (1 - β (T - 15 °C))</i>; bulk modulus <i>K + m p</i>, and air that stays free. One oil serves all hydraulic parts of the model, or of the assembly in which it stands; what they lose flows into it as heat. Density and bulk modulus in chambers are those of the start; viscosity and density in throttles follow the temperature.</p></html>"),
    __Movrel(synonyms={"fluid", "hydraulic fluid", "medium", "viscosity", "bulk modulus", "HLP", "cooler"}, source="DIN 51563 (viscosity line); ISO 3448 (grades); Gholizadeh, Burton and Schoenau, Int. J. Fluid Power 12 (2011) no. 3"),
    defaultComponentName="oil",
    defaultComponentPrefixes="inner",
    missingInnerMessage="The model has hydraulic parts but no oil: mineral oil of 46 mm2/s at 40 °C is taken. Put the part Oil on the sheet to choose another.");
end Oil;
