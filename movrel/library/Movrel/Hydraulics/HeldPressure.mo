within Movrel.Hydraulics;
model HeldPressure "Oil at a pressure that is given"
  import Movrel.Units.*;
  parameter Pressure p_0(displayUnit="bar") = 100e5 "Pressure above the surroundings";
  OilPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.p = p_0;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="p"),
      Line(points={{60,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%p_0")}),
    Documentation(info="<html><p><i>p</i> is given; any flow.</p></html>"),
    __Movrel(synonyms={"pressure source", "supply", "boundary"}, source="Definition"));
end HeldPressure;
