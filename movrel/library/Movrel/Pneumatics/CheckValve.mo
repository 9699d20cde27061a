within Movrel.Pneumatics;
model CheckValve "Valve that lets gas through one way"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Pressure p_open(displayUnit="bar", min=0) = 0.05e5 "Pressure difference that opens it";
  parameter Ratio leak(min=0, max=1) = 1e-6 "Conductance when closed, as a part of C";
equation
  m = sonic_flow(a.p, b.p, T, (leak + max(0, min(1, (dp - p_open)/(p_open + 1000))))*C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{30,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Ellipse(extent={{-26,22},{18,-22}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-10,-44},{-34,0},{-10,44}}, color={40,44,60}),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p>Forwards a restriction that opens between <i>p_open</i> and twice that; backwards a small leak.</p></html>"),
    __Movrel(synonyms={"non-return valve", "one-way"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end CheckValve;
