within Movrel.Hydraulics;
function flow_energy "Energy that flows with a volume of oil: the integral of its relative volume over the pressure"
  import Movrel.Units.*;
  input Pressure p "Pressure above the surroundings";
  input Pressure K "Bulk modulus of the oil at ambient pressure";
  input Ratio m "How much it grows with the pressure";
  input Ratio air "Share of air at ambient pressure";
  input Ratio n "Polytropic exponent of the air";
  input Pressure p_ambient "Pressure of the surroundings";
  output Pressure h "Energy over volume at ambient pressure";
protected
  constant Ratio thin = 1e-3 "As in relative_volume";
  Ratio x "Absolute over ambient pressure";
  Ratio gas "What the air adds, over the ambient pressure";
algorithm
  x := 1 + p/p_ambient;
  gas := n/(n - 1)*(max(x, thin)^(1 - 1/n) - 1) + thin^(-1/n)*(min(x - thin, 0) - min(x - thin, 0)^2/(2*n*thin));
  h := (1 - air)*K/(m - 1)*(max(1 + m*p/K, 0.05)^(1 - 1/m) - 1) + air*p_ambient*gas;
  annotation (
    Documentation(info="<html><p><i>h = ∫ v dp</i>, the specific enthalpy of an isentropic change times the density. Without compressibility it is the pressure.</p></html>"),
    __Movrel(source="Baehr and Kabelac, Thermodynamik, on isentropic changes"));
end flow_energy;
