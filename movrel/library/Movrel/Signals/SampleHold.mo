within Movrel.Signals;
block SampleHold "Takes a sample and holds it"
  import Movrel.Units.*;
  parameter Movrel.Units.Time period(min=1e-9) = 0.1 "Time between two samples";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  discrete SignalOut y(start=0, fixed=true) "The last sample" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  when {initial(), sample(0, period)} then
    y = u;
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,-50},{-50,-50},{-50,0},{-15,0},{-15,40},{20,40},{20,10},{55,10},{55,-30},{80,-30}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%period")}),
    Documentation(info="<html><p><i>y = u at each sample, then held</i></p></html>"),
    __Movrel(synonyms={"zero-order hold", "ZOH", "AD converter", "sampler", "sample", "clock"}, source="Åström and Wittenmark, Computer-Controlled Systems"));
end SampleHold;
