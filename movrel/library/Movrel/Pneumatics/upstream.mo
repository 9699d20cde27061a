within Movrel.Pneumatics;
function upstream "Temperature of what flows between two sides, led smoothly through the laminar range"
  import Movrel.Units.*;
  input Pressure p_a "Absolute pressure on one side";
  input Pressure p_b "Absolute pressure on the other side";
  input Temperature T_a "Temperature of what would come from a";
  input Temperature T_b "Temperature of what would come from b";
  output Temperature T "Temperature of what flows";
protected
  Ratio u "From 0 to 1 while the pressure ratio goes through the laminar range, 0.999 both ways";
algorithm
  u := min(max(0.5 + 500*(p_a - p_b)/max(max(p_a, p_b), 1), 0), 1);
  T := T_b + (T_a - T_b)*u^2*(3 - 2*u);
  annotation (
    Documentation(info="<html><p>Beyond the laminar range the temperature of the side with the higher pressure; within it a smooth change, as almost nothing flows there.</p></html>"),
    __Movrel(source="Definition"));
end upstream;
