within Movrel.Thermal;
model Thermometer "Measures a temperature"
  import Movrel.Units.*;
  ThermalNode a "Where" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut T(unit="K") "Temperature in kelvin" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  T = a.T;
  a.Q = 0;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={136,64,50}),
      Text(extent={{-40,34},{40,-34}}, textString="T"),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It takes no heat.</p></html>"),
    __Movrel(synonyms={"thermometer", "measure", "thermocouple"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end Thermometer;
