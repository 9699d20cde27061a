within Movrel.Process;
function friction_velocity "Mean velocity in a pipe that a pressure drop drives"
  import Movrel.Units.*;
  input Pressure dp "Pressure drop of friction";
  input Length l "Length";
  input Length d "Inner diameter";
  input Length k "Roughness";
  input Ratio zeta "Loss coefficients of bends and fittings";
  input Density rho "Density";
  input DynamicViscosity mu "Dynamic viscosity";
  output Velocity v "Mean velocity";
protected
  Pressure size "Pressure drop without its sign, smooth about zero";
  Velocity s "Mean velocity times root of the friction factor";
  Velocity v_laminar "Velocity if the flow were laminar, up to a Reynolds number of 2300";
  Velocity v_turbulent "Velocity if the flow were turbulent";
  Ratio part "How far it is turbulent: 0 below a Reynolds number of 2300, 1 above 4000";
  Velocity v_wall "Velocity without bends and fittings";
algorithm
  size := sqrt(dp^2 + 1e-6);
  s := sqrt(2*d*size/(rho*l));
  v_laminar := min(max(d^2*dp/(32*mu*l), -6*s), 6*s);
  v_turbulent := -2*s*log10(min(2.51*mu/(rho*d*s) + k/(3.7*d), 0.3))*dp/size;
  part := min(max(log(rho*d*s/mu/384)/log(800/384), 0), 1);
  v_wall := v_laminar + part^2*(3 - 2*part)*(v_turbulent - v_laminar);
  v := v_wall/sqrt(1 + v_wall^2*zeta*rho/(2*size));
  annotation (
    Documentation(info="<html><p>Laminar after Hagen and Poiseuille, turbulent after Colebrook, whose formula is explicit when the pressure drop is known; bends and fittings in series.</p></html>"),
    __Movrel(source="Colebrook, J. Inst. Civil Engineers 11 (1939) 133"));
end friction_velocity;
