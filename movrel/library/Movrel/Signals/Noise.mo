within Movrel.Signals;
block Noise "Random numbers with a normal distribution, the same in every run"
  import Movrel.Units.*;
  parameter Real mean = 0 "Mean value";
  parameter Real sigma(min=0) = 1 "Standard deviation";
  parameter Movrel.Units.Time period(min=1e-9) = 0.1 "Time between two numbers";
  parameter Integer seed(min=1, max=2147483646) = 1 "Where the row of numbers begins";
  SignalOut y "The signal" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  discrete Real a(start=1, fixed=true) "First number of the row";
  discrete Real b(start=1, fixed=true) "Second number of the row";
algorithm
  when {initial(), sample(period, period)} then
    a := if initial() then mod(16807.0*mod(16807.0*seed, 2147483647.0), 2147483647.0) else mod(16807.0*pre(b), 2147483647.0);
    b := mod(16807.0*a, 2147483647.0);
  end when;
equation
  y = mean + sigma*sqrt(-2*log(a/2147483647.0))*cos(2*Movrel.Units.pi*b/2147483647.0);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-80,0},{-68,30},{-56,-20},{-44,55},{-32,10},{-20,-60},{-8,25},{4,-10},{16,62},{28,-30},{40,15},{52,-50},{64,35},{76,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%sigma")}),
    Documentation(info="<html><p>Box and Muller's transformation of a multiplicative congruential row x := 16807 x mod (2<sup>31</sup> - 1)</p></html>"),
    __Movrel(synonyms={"random", "disturbance", "Gaussian", "white noise"}, source="Park and Miller, Communications of the ACM 31 (1988) 1192; Box and Muller, Ann. Math. Stat. 29 (1958) 610"));
end Noise;
