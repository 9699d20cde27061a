within Movrel.Process;
model Orifice "Sharp-edged opening through which liquid runs out under its own weight"
  import Movrel.Units.*;
  constant Real pi = 3.141592653589793;
  parameter Ratio C_d(min=1e-6, max=1) = 0.62 "Discharge coefficient";
  parameter Length diameter(min=1e-6, displayUnit="m") = 0.1 "Diameter of the opening";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  final parameter Area A = pi*diameter^2/4 "Area of the opening";
  Pressure dp "Pressure drop from a to b";
  VolumeFlowRate q(displayUnit="l/s") "Flow from a to b";
  Velocity v "Mean velocity in the opening";
  LiquidPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  dp = a.p - b.p;
  q = if dp > 0 then C_d*A*sqrt(2*dp/rho) else 0;
  v = q/A;
  a.q = q;
  b.q = -q;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{0,70},{0,16}}, color={40,44,60}, thickness=0.75),
      Line(points={{0,-16},{0,-70}}, color={40,44,60}, thickness=0.75),
      Line(points={{-18,16},{18,16}}, color={40,44,60}, thickness=0.5),
      Line(points={{-18,-16},{18,-16}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,120},{150,80}}, textString="%name"),
      Text(extent={{-150,-80},{150,-114}}, textString="%diameter")}),
    Documentation(info="<html><p>Torricelli's law with a discharge coefficient:
    <i>q = C_d A sqrt(2 dp/rho)</i>. The flow is one-way: an empty basin gives none.</p></html>"),
    __Movrel(synonyms={"outlet", "nozzle", "opening", "hole"}, source="Torricelli; Bollrich, Technische Hydromechanik"));
end Orifice;
