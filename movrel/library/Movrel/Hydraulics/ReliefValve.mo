within Movrel.Hydraulics;
model ReliefValve "Relief valve: lets oil out above a pressure"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter Pressure p_set(displayUnit="bar") = 200e5 "Pressure difference at which it begins to open";
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 10e5 "Pressure drop at which q_n flows";
  parameter Pressure p_span(displayUnit="bar", min=1) = 5e5 "Pressure from beginning to fully open";
  parameter Time T(min=1e-6) = 2e-3 "Time constant of its poppet";
  Ratio y(start=0, fixed=true) "How far it is open";
equation
  T*der(y) = min(max((dp - p_set)/p_span, 0), 1) - y;
  q = throttled(dp, y*q_n, dp_n, dp_n/100);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-44,44},{44,-44}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-44,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{44,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{-44,-22},{44,-22}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{0,44},{-12,52},{12,62},{-12,72},{12,82},{0,90}}, color={40,44,60}),
      Line(points={{-70,0},{-70,-70},{0,-70},{0,-44}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{20,100},{240,62}}, textString="%name", horizontalAlignment=TextAlignment.Left),
      Text(extent={{-150,-108},{150,-142}}, textString="%p_set")}),
    Documentation(info="<html><p><i>T dy/dt = (Δp - p_set)/p_span - y</i> within 0 and 1, <i>q = y q_n √(Δp/Δp_n)</i>.</p></html>"),
    __Movrel(synonyms={"safety valve", "pressure limiting", "PRV", "cracking pressure"}, source="Merritt, Hydraulic Control Systems, 1967, section 9-2; symbol ISO 1219-1"));
end ReliefValve;
