within Movrel.Process;
model InertPipe "Pipe with friction in proportion to v² and the inertia of the liquid"
  import Movrel.Units.*;
  parameter Length l(min=1e-9) = 100 "Length";
  parameter Length d(min=1e-9) = 0.1 "Inner diameter";
  parameter Ratio lambda(min=0) = 0.02 "Friction factor";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  parameter VolumeFlowRate q_start = 0 "Flow at the start";
  LiquidPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure dp "Pressure drop from a to b";
  VolumeFlowRate q(start=q_start, fixed=true, displayUnit="l/s") "Flow from a to b";
  Velocity v "Mean velocity";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  v = q/(pi*d^2/4);
  dp = rho*l*der(v) + lambda*l/d*rho*v*abs(v)/2;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{-70,24},{70,24}}, color={40,44,60}, thickness=0.5),
      Line(points={{-70,-24},{70,-24}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-30,70},{30,34}}, textString="ρl"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%l")}),
    Documentation(info="<html><p><i>Δp = ρ l dv/dt + λ l/d ρ v²/2</i></p></html>"),
    __Movrel(synonyms={"surge", "water hammer", "inertance"}, source="Chaudhry, Applied Hydraulic Transients, rigid column"));
end InertPipe;
