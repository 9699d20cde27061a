within Movrel.Process;
model Pipe "Pipe with friction, laminar and turbulent"
  import Movrel.Units.*;
  parameter Length l(min=1e-9) = 10 "Length";
  parameter Length d(min=1e-9) = 0.1 "Inner diameter";
  parameter Length k(min=0) = 0.1e-3 "Roughness of the wall";
  parameter Length rise = 0 "Height of b above a";
  parameter Ratio zeta(min=0) = 0 "Loss coefficients of bends and fittings together";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  parameter DynamicViscosity mu(min=1e-12) = 1e-3 "Dynamic viscosity";
  LiquidPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure dp "Pressure drop from a to b";
  VolumeFlowRate q(displayUnit="l/s") "Flow from a to b";
  Velocity v "Mean velocity";
  Ratio Re "Reynolds number";
  Ratio lambda "Friction factor";
  Pressure dp_friction "Part of friction";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  v = q/(pi*d^2/4);
  Re = rho*abs(v)*d/mu;
  lambda = 8*((8/(Re + 1e-3))^12 + 1/((2.457*log(1/((7/(Re + 1e-3))^0.9 + 0.27*k/d)))^16 + (37530/(Re + 1e-3))^16)^1.5)^(1/12);
  dp_friction = (lambda*l/d + zeta)*rho*v*abs(v)/2;
  dp = dp_friction + rho*g_n*rise;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{-70,24},{70,24}}, color={40,44,60}, thickness=0.5),
      Line(points={{-70,-24},{70,-24}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p>Darcy and Weisbach: <i>Δp = (λ l/d + ζ) ρ v²/2 + ρ g rise</i>, the friction factor λ for all Reynolds numbers after Churchill</p></html>"),
    __Movrel(synonyms={"tube", "line", "hose", "pressure loss", "friction factor"}, source="Churchill, Chemical Engineering 84 (1977) no. 24, 91"));
end Pipe;
