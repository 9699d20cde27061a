within Movrel.Hydraulics;
function relative_volume "Volume of oil with some air in it, over its volume at ambient pressure"
  import Movrel.Units.*;
  input Pressure p "Pressure above the surroundings";
  input Pressure K "Bulk modulus of the oil at ambient pressure";
  input Ratio m "How much it grows with the pressure";
  input Ratio air "Share of air at ambient pressure";
  input Ratio n "Polytropic exponent of the air";
  input Pressure p_ambient "Pressure of the surroundings";
  output Ratio v "Relative volume";
protected
  constant Ratio thin = 1e-3 "Absolute over ambient pressure below which the air is continued by its tangent";
  Ratio x "Absolute over ambient pressure";
  Ratio gas "Relative volume of the air";
algorithm
  x := 1 + p/p_ambient;
  gas := if noEvent(x > thin) then max(x, thin)^(-1/n) else thin^(-1/n)*(1 - (x - thin)/(n*thin));
  v := (1 - air)*max(1 + m*p/K, 0.05)^(-1/m) + air*gas;
  annotation (
    Documentation(info="<html><p>Oil whose bulk modulus is <i>K + m p</i>: <i>(1 + m p/K)^(-1/m)</i>; air that stays free, polytropic: <i>(p_abs/p_ambient)^(-1/n)</i>.</p></html>"),
    __Movrel(source="Murnaghan, Proc. Natl. Acad. Sci. 30 (1944) 244; Gholizadeh, Burton and Schoenau, Int. J. Fluid Power 12 (2011) no. 3"));
end relative_volume;
