within Movrel.Hydraulics;
model Capillary "Narrow gap or tube with laminar flow"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter Length l(min=1e-9, displayUnit="mm") = 0.05 "Length";
  parameter Length d(min=1e-9, displayUnit="mm") = 1e-3 "Inner diameter";
equation
  q = pi*d^4/(128*oil.mu*l)*dp;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{-40,26},{40,26}}, color={40,44,60}, thickness=0.5),
      Line(points={{-40,-26},{40,-26}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,120},{150,80}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p>Hagen and Poiseuille: <i>q = π d⁴/(128 μ l) Δp</i>; it depends on the viscosity, and so on the temperature.</p></html>"),
    __Movrel(synonyms={"leakage", "laminar resistance", "leak"}, source="Merritt, Hydraulic Control Systems, 1967, section 2-4"));
end Capillary;
