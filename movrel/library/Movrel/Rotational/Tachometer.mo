within Movrel.Rotational;
model Tachometer "Measures a speed"
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut w(unit="rad/s") "Measures" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  w = der(a.phi);
  a.tau = 0;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="ω"),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It takes no torque.</p></html>"),
    __Movrel(synonyms={"measure", "sensor", "velocity", "tachometer"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Tachometer;
