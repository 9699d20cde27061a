within Movrel.Hydraulics;
model Throttle "Throttle with a fixed setting"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=0) = 20/60000 "Flow at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 10e5 "Pressure drop at which q_n flows";
  parameter Ratio opening(min=0, max=1) = 1 "How far it is open";
equation
  q = throttled(dp, opening*q_n, dp_n, dp_n/100);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{-40,40},{-14,26},{0,8},{14,26},{40,40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-40},{-14,-26},{0,-8},{14,-26},{40,-40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Text(extent={{-150,120},{150,80}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%q_n")}),
    Documentation(info="<html><p><i>q = y q_n √(Δp/Δp_n)</i> both ways; linear below a hundredth of Δp_n.</p></html>"),
    __Movrel(synonyms={"restrictor", "needle valve", "flow control"}, source="Merritt, Hydraulic Control Systems, 1967, section 3-2; symbol ISO 1219-1"));
end Throttle;
