within Movrel.Hydraulics;
model DrivenThrottle "Throttle whose opening a signal sets"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=0) = 20/60000 "Flow at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 10e5 "Pressure drop at which q_n flows";
  parameter Ratio leak(min=0, max=1) = 1e-6 "Flow when closed, as a part of q_n";
  Movrel.Signals.SignalIn opening "How far it is open, 0 to 1" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  q = throttled(dp, max(leak, min(opening, 1))*q_n, dp_n, dp_n/100);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{-40,40},{-14,26},{0,8},{14,26},{40,40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-40},{-14,-26},{0,-8},{14,-26},{40,-40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-50},{40,50}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{0,100},{0,46}}, color={40,44,60}),
      Text(extent={{-190,120},{-10,84}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%q_n")}),
    Documentation(info="<html><p><i>q = y q_n √(Δp/Δp_n)</i> both ways, y the signal within 0 and 1.</p></html>"),
    __Movrel(synonyms={"variable restrictor", "metering valve", "proportional throttle"}, source="Merritt, Hydraulic Control Systems, 1967, section 3-2; symbol ISO 1219-1"));
end DrivenThrottle;
