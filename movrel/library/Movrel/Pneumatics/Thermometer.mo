within Movrel.Pneumatics;
model Thermometer "Measures the temperature of what flows through it"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  GasPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  GasPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalOut T(unit="K") "Temperature of what flows" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  a.p = b.p;
  a.m + b.m = 0;
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  T = (if noEvent(a.m > 0) then inStream(a.h) else a.h)/gas.c_p;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-50,54},{50,6}}, textString="T"),
      Line(points={{0,-60},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It takes no heat and has no pressure drop.</p></html>"),
    __Movrel(synonyms={"measure", "temperature sensor"}, source="symbol ISO 1219-1"));
end Thermometer;
