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
  Pressure dp_loss(start=1000) "Part that friction takes";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  dp = dp_loss + rho*g_n*rise;
  v = friction_velocity(dp_loss, l, d, k, zeta, rho, mu);
  q = pi*d^2/4*v;
  Re = rho*abs(v)*d/mu;
  lambda = (2*abs(dp_loss)/(rho*max(v^2, 1e-20)) - zeta)*d/l;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{-70,24},{70,24}}, color={40,44,60}, thickness=0.5),
      Line(points={{-70,-24},{70,-24}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p>Darcy and Weisbach: <i>Δp = (λ l/d + ζ) ρ v²/2 + ρ g rise</i>; laminar <i>λ = 64/Re</i>, turbulent Colebrook's <i>1/√λ = -2 lg(2.51/(Re √λ) + k/(3.7 d))</i>, which is explicit in the flow; a smooth change between Reynolds numbers of 2300 and 4000</p></html>"),
    __Movrel(synonyms={"tube", "line", "hose", "pressure loss", "friction factor"}, source="Colebrook, J. Inst. Civil Engineers 11 (1939) 133"));
end Pipe;
