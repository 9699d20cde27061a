within Movrel.Process;
model Source "Liquid at a pressure that is given"
  import Movrel.Units.*;
  parameter Pressure p(displayUnit="bar") = 1e5 "Pressure above the surroundings";
  LiquidPort port "Outlet" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.p = p;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,60},{60,-60}}, lineColor={38,106,118}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-50,34},{50,-34}}, textString="p"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%p")}),
    Documentation(info="<html><p><i>p</i> is given; any flow</p></html>"),
    __Movrel(synonyms={"supply", "mains", "header", "boundary"}, source="symbol ISO 14617"));
end Source;
