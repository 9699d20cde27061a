within Movrel.Hydraulics;
model DrivenFlow "Flow driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn q(unit="m3/s") "Flow that it delivers" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  OilPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.q = -q;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-34,0},{34,0}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>An ideal source: it delivers the signal whatever the pressure.</p></html>"),
    __Movrel(synonyms={"flow source", "supply", "inflow"}, source="Definition"));
end DrivenFlow;
