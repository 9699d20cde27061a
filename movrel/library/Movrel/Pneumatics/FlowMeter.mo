within Movrel.Pneumatics;
model FlowMeter "Measures a mass flow"
  import Movrel.Units.*;
  GasPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  GasPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalOut m(unit="kg/s") "Flow from a to b" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  a.p = b.p;
  a.m + b.m = 0;
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  m = a.m;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{-40,26},{-20,14},{20,14},{40,26}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-26},{-20,-14},{20,-14},{40,-26}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{0,-60},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>No pressure drop.</p></html>"),
    __Movrel(synonyms={"measure", "flow sensor"}, source="symbol ISO 1219-1"));
end FlowMeter;
