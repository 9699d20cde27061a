within Movrel.Hydraulics;
model CheckValve "Valve that lets oil through one way"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter Pressure p_open(displayUnit="bar", min=0) = 0.5e5 "Pressure difference that opens it";
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow at dp_n beyond p_open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 5e5 "Pressure drop beyond p_open at which q_n flows";
  parameter Ratio leak(min=1e-15, max=1) = 1e-7 "Flow backwards, as a part of the flow forwards";
equation
  q = (if dp > p_open then 1 else leak)*throttled(dp - p_open, q_n, dp_n, dp_n/100) + leak*throttled(p_open, q_n, dp_n, dp_n/100);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{30,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Ellipse(extent={{-26,22},{18,-22}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-10,-44},{-34,0},{-10,44}}, color={40,44,60}),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p>Forwards <i>q = q_n √((Δp - p_open)/Δp_n)</i>, backwards a small leak.</p></html>"),
    __Movrel(synonyms={"non-return valve", "one-way", "suction valve", "anti-cavitation"}, source="Merritt, Hydraulic Control Systems, 1967; symbol ISO 1219-1"));
end CheckValve;
