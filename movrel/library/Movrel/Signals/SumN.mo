within Movrel.Signals;
block SumN "Adds or subtracts any number of signals"
  parameter Integer n(min=1) = 3 "Number of inputs";
  parameter Sign sign[n] = fill(Sign.add, n) "For each input whether it is added or subtracted";
  SignalIn u[n] "Inputs" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = sum({if sign[i] == Sign.add then u[i] else -u[i] for i in 1:n});
  annotation (
    Icon(graphics={
      Ellipse(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-60,45},{60,-45}}, textString="Σ ±"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>y = Σ ± u<sub>i</sub></p></html>"),
    __Movrel(synonyms={"add", "subtract", "total", "summer", "adder"}, source="Definition"));
end SumN;
