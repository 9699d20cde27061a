within Movrel.Pneumatics;
function sonic_flow "Mass flow through a restriction by its sonic conductance and critical pressure ratio"
  import Movrel.Units.*;
  input Pressure p_a "Absolute pressure on one side";
  input Pressure p_b "Absolute pressure on the other side";
  input Temperature T "Temperature of what flows";
  input Real C(unit="m3/(s.Pa)") "Sonic conductance";
  input Ratio b "Critical pressure ratio";
  input Density rho_0 "Density at 1 bar and 20 °C";
  output MassFlowRate m "Mass flow from a to b";
protected
  constant Temperature T_0 = 293.15 "Temperature at which C is given";
  Pressure p_1 "The higher pressure";
  Ratio z "Pressure drop over that at which the flow chokes, within -1 and 1";
  Ratio y "Square of the flow over the choked one, with its sign";
  Ratio y_l "That at a pressure ratio of 0.999, above which the flow is laminar";
algorithm
  p_1 := max(max(p_a, p_b), 1);
  z := min(max((p_a - p_b)/(p_1*(1 - b)), -1), 1);
  y := z*(2 - abs(z));
  y_l := 2e-3/(1 - b);
  m := C*rho_0*p_1*sqrt(T_0/max(T, 1))*y/sqrt(sqrt(y^2 + y_l^2));
  annotation (
    Documentation(info="<html><p><i>m = C ρ_0 p_1 √(T_0/T_1) √(1 - ((p_2/p_1 - b)/(1 - b))²)</i>; choked where <i>p_2/p_1</i> is below b; laminar close to no flow, both ways.</p></html>"),
    __Movrel(source="ISO 6358-1:2013"));
end sonic_flow;
