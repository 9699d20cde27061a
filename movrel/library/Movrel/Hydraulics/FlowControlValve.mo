within Movrel.Hydraulics;
model FlowControlValve "Flow control valve: lets a set flow through, whatever the pressure drop"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter VolumeFlowRate q_set(displayUnit="l/min", min=1e-12) = 10/60000 "Flow that it lets through";
  parameter Pressure dp_min(displayUnit="bar", min=1) = 8e5 "Pressure drop from which it controls";
  parameter Ratio sharp(min=2) = 8 "How sharp the change there is";
protected
  VolumeFlowRate q_open "Flow if it were fully open";
equation
  q_open = throttled(dp, q_set, dp_min, dp_min/100);
  q = if noEvent(dp > 0) then q_open/(1 + (max(dp, 0)/dp_min)^(sharp/2))^(1/sharp) else q_open;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-44,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{44,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Rectangle(extent={{-44,44},{44,-44}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-24,30},{-8,18},{0,6},{8,18},{24,30}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-24,-30},{-8,-18},{0,-6},{8,-18},{24,-30}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-34,-38},{34,38}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-44,0},{44,0}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Text(extent={{-150,110},{150,70}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%q_set")}),
    Documentation(info="<html><p>Below <i>dp_min</i> a throttle, above it the compensator keeps <i>q_set</i>; backwards it is a throttle.</p></html>"),
    __Movrel(synonyms={"pressure compensated", "speed control", "flow regulator"}, source="Merritt, Hydraulic Control Systems, 1967; symbol ISO 1219-1"));
end FlowControlValve;
