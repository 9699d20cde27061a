within Movrel.Thermal;
model DrivenTemperature "Temperature driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn T(unit="K") "Temperature" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  ThermalNode b "The place" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.T = T;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,60},{60,-60}}, lineColor={136,64,50}, fillColor={240,228,222}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Text(extent={{-50,34},{50,-34}}, textString="T(t)"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>T</i> is the signal, in kelvin</p></html>"),
    __Movrel(synonyms={"ambient", "weather", "boundary"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end DrivenTemperature;
