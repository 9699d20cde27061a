within Movrel.Signals;
block Sine "Sine wave"
  import Movrel.Units.*;
  parameter Real amplitude = 1 "Amplitude";
  parameter Movrel.Units.Frequency f(min=0) = 1 "Frequency";
  parameter Movrel.Units.Angle phase(displayUnit="deg") = 0 "Phase at the beginning";
  parameter Real offset = 0 "Mean value";
  parameter Movrel.Units.Time delay = 0 "When it begins";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = offset + (if time < delay then 0 else amplitude*sin(2*Movrel.Units.pi*f*(time - delay) + phase));
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,0},{-60,55},{-40,55},{-20,0}}, color={40,44,60}),
      Line(points={{-20,0},{0,-55},{20,-55},{40,0}}, color={40,44,60}),
      Line(points={{40,0},{55,40},{70,55}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%f")}),
    Documentation(info="<html><p><i>y = offset + amplitude sin(2 π f (t - delay) + phase)</i></p></html>"),
    __Movrel(synonyms={"harmonic", "oscillation", "AC", "wave", "sinus", "cosine"}, source="Definition"));
end Sine;
