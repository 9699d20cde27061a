within Movrel.Thermal;
model HeldTemperature "Place that keeps its temperature"
  import Movrel.Units.*;
  parameter Temperature T = 293.15 "Temperature";
  ThermalNode b "The place" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.T = T;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,60},{60,-60}}, lineColor={136,64,50}, fillColor={240,228,222}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%T")}),
    Documentation(info="<html><p><i>T</i> is given; any heat flows</p></html>"),
    __Movrel(synonyms={"ambient", "surroundings", "boundary", "sea water"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end HeldTemperature;
