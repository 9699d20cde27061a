within Movrel.Signals;
block Chirp "Sine whose frequency rises steadily"
  import Movrel.Units.*;
  parameter Real amplitude = 1 "Amplitude";
  parameter Movrel.Units.Frequency f_0(min=0) = 0.1 "Frequency at the beginning";
  parameter Movrel.Units.Frequency f_1(min=0) = 10 "Frequency at the end";
  parameter Movrel.Units.Time duration(min=1e-9) = 10 "How long it sweeps";
  Movrel.Units.Frequency f "Frequency at this instant";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  f = f_0 + (f_1 - f_0)*min(max(time/duration, 0), 1);
  y = amplitude*sin(2*Movrel.Units.pi*(if time < duration then f_0*time + (f_1 - f_0)*time^2/(2*duration)
    else (f_0 + f_1)*duration/2 + f_1*(time - duration)));
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,0},{-60,60},{-40,60},{-20,0},{-6,-60},{8,-60},{20,0},{30,60},{38,60},{46,0},{54,-60},{62,-60},{70,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%f_0 to %f_1")}),
    Documentation(info="<html><p><i>y = amplitude sin(2 π ∫ f dt), f from f_0 to f_1 in the given time</i></p></html>"),
    __Movrel(synonyms={"sweep", "frequency response"}, source="Definition"));
end Chirp;
