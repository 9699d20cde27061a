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
  Pressure dp_loss "Part that friction takes";
protected
  Pressure size "Its size, smooth about zero";
  Velocity s "Mean velocity times root of the friction factor";
  Velocity v_laminar "Velocity if the flow were laminar, up to a Reynolds number of 2300";
  Velocity v_turbulent "Velocity if the flow were turbulent";
  Ratio part "How far it is turbulent: 0 below a Reynolds number of 2300, 1 above 4000";
  Velocity v_wall "Velocity without bends and fittings";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  dp = dp_loss + rho*g_n*rise;
  size = sqrt(dp_loss^2 + 1e-6);
  s = sqrt(2*d*size/(rho*l));
  v_laminar = min(max(d^2*dp_loss/(32*mu*l), -6*s), 6*s);
  v_turbulent = -2*s*log10(min(2.51*mu/(rho*d*s) + k/(3.7*d), 0.3));
  part = min(max(log(rho*d*s/mu/384)/log(800/384), 0), 1);
  v_wall = v_laminar + part^2*(3 - 2*part)*(v_turbulent*dp_loss/size - v_laminar);
  v = v_wall/sqrt(1 + v_wall^2*zeta*rho/(2*size));
  q = pi*d^2/4*v;
  Re = rho*abs(v)*d/mu;
  lambda = (s/max(abs(v_wall), 1e-12))^2;
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
