within Movrel.Hydraulics;
function line_friction "Pressure drop of friction along a straight line"
  import Movrel.Units.*;
  input Velocity v "Mean velocity";
  input Length l "Length";
  input Length d "Inner diameter";
  input Length k "Roughness";
  input Density rho "Density";
  input KinematicViscosity nu "Kinematic viscosity";
  output Pressure dp "Pressure drop";
protected
  Ratio Re "Reynolds number";
  Ratio lambda "Friction factor if the flow were turbulent";
  Ratio part "How far it is turbulent: 0 below a Reynolds number of 2300, 1 above 4000";
algorithm
  Re := abs(v)*d/nu;
  lambda := 0.3086/log10((k/(3.7*d))^1.11 + 6.9/max(Re, 1000))^2;
  part := min(max((Re - 2300)/1700, 0), 1);
  part := part^2*(3 - 2*part);
  dp := (1 - part)*32*rho*nu*l*v/d^2 + part*lambda*l/d*rho/2*v*abs(v);
  annotation (
    Documentation(info="<html><p>Laminar after Hagen and Poiseuille, turbulent after Haaland, with a smooth change between Reynolds numbers of 2300 and 4000.</p></html>"),
    __Movrel(source="Haaland, J. Fluids Engineering 105 (1983) 89"));
end line_friction;
