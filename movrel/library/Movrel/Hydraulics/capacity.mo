within Movrel.Hydraulics;
function capacity "How much more a unit of volume holds, as volume at ambient pressure, for a rise of the pressure"
  import Movrel.Units.*;
  input Pressure p "Pressure above the surroundings";
  input Pressure K "Bulk modulus of the oil at ambient pressure";
  input Ratio m "How much it grows with the pressure";
  input Ratio air "Share of air at ambient pressure";
  input Ratio n "Polytropic exponent of the air";
  input Pressure p_ambient "Pressure of the surroundings";
  output Real c(unit="1/Pa") "Derivative of the content over the pressure";
protected
  constant Ratio thin = 1e-3 "As in relative_volume";
  Ratio x "Absolute over ambient pressure";
  Ratio v "Relative volume";
algorithm
  x := max(1 + p/p_ambient, thin);
  v := relative_volume(p, K, m, air, n, p_ambient);
  c := ((1 - air)/K*max(1 + m*p/K, 0.05)^(-1/m - 1) + air/(n*p_ambient)*x^(-1/n - 1))/v^2;
  annotation (
    Documentation(info="<html><p><i>-dv/dp/v²</i>: the compressibility over the relative volume.</p></html>"),
    __Movrel(source="Murnaghan, Proc. Natl. Acad. Sci. 30 (1944) 244"));
end capacity;
