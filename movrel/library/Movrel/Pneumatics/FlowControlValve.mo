within Movrel.Pneumatics;
model FlowControlValve "One-way flow control: throttles one way, free the other"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Ratio opening(min=0, max=1) = 0.2 "How far its throttle is open";
equation
  m = sonic_flow(a.p, b.p, T, (opening + (1 - opening)*max(0, min(1, (-dp - 2000)/2000)))*C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Rectangle(extent={{-70,70},{70,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.None, pattern=LinePattern.Dash),
      Line(points={{-30,-30},{-10,-20},{0,-6},{10,-20},{30,-30}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-70,0},{-70,46},{-16,46}}, color={40,44,60}),
      Line(points={{70,0},{70,46},{16,46}}, color={40,44,60}),
      Ellipse(extent={{-14,58},{10,34}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{6,66},{22,46},{6,26}}, color={40,44,60}),
      Text(extent={{-150,120},{150,80}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%opening")}),
    Documentation(info="<html><p>From a to b a throttle, from b to a its check valve opens.</p></html>"),
    __Movrel(synonyms={"speed controller", "throttle check", "meter-out"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end FlowControlValve;
