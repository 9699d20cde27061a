within Movrel.Process;
model LevelGauge "Measures the level from the pressure at the floor"
  import Movrel.Units.*;
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  LiquidPort a "Opening at the floor" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut level(unit="m") "Level" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  a.q = 0;
  level = a.p/(rho*g_n);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="L"),
      Line(points={{-100,0},{-60,0}}, color={38,106,118}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>level = p/(ρ g)</i>; no flow</p></html>"),
    __Movrel(synonyms={"measure", "hydrostatic", "gauge"}, source="symbol ISO 14617"));
end LevelGauge;
