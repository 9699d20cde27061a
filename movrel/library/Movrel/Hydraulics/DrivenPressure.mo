within Movrel.Hydraulics;
model DrivenPressure "Pressure driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn p(unit="Pa") "Pressure above the surroundings" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  OilPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.p = p;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="p"),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>p</i> is the signal; any flow.</p></html>"),
    __Movrel(synonyms={"pressure source", "supply", "boundary"}, source="Definition"));
end DrivenPressure;
