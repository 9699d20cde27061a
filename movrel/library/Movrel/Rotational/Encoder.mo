within Movrel.Rotational;
model Encoder "Measures the angle of a shaft"
  import Movrel.Units.*;
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalOut phi(unit="rad") "Angle" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  phi = a.phi;
  a.tau = 0;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="φ"),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It takes no torque.</p></html>"),
    __Movrel(synonyms={"encoder", "position", "measure"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Encoder;
