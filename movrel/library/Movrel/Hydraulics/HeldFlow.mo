within Movrel.Hydraulics;
model HeldFlow "Constant flow of oil"
  import Movrel.Units.*;
  parameter VolumeFlowRate q_0(displayUnit="l/min") = 10/60000 "Flow that it delivers";
  OilPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.q = -q_0;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-34,0},{34,0}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{60,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%q_0")}),
    Documentation(info="<html><p>An ideal source: it delivers <i>q</i> whatever the pressure.</p></html>"),
    __Movrel(synonyms={"flow source", "supply", "inflow"}, source="Definition"));
end HeldFlow;
