within Movrel.Pneumatics;
model ReducingValve "Pressure regulator: keeps the pressure behind it from rising above a value"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Pressure p_set(displayUnit="bar") = 6e5 "Absolute pressure behind it at which it is just closed";
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Pressure p_span(displayUnit="bar", min=1) = 0.3e5 "Pressure from beginning to fully open";
  parameter Time T_valve(min=1e-6) = 5e-3 "Time constant of its poppet";
  parameter Ratio leak(min=0, max=1) = 1e-7 "Conductance when closed, as a part of C";
  Ratio y(start=0, fixed=true) "How far it is open";
equation
  T_valve*der(y) = min(max((p_set - b.p)/p_span, 0), 1) - y;
  m = sonic_flow(a.p, b.p, T, max(leak, y)*C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-44,44},{44,-44}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-44,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{44,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{-44,0},{44,0}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{0,44},{-12,52},{12,62},{-12,72},{12,82},{0,90}}, color={40,44,60}),
      Line(points={{70,0},{70,-70},{0,-70},{0,-44}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{20,100},{240,62}}, textString="%name", horizontalAlignment=TextAlignment.Left),
      Text(extent={{-150,-108},{150,-142}}, textString="%p_set")}),
    Documentation(info="<html><p><i>T dy/dt = (p_set - p_b)/p_span - y</i> within 0 and 1; flow as a restriction.</p></html>"),
    __Movrel(synonyms={"regulator", "pressure reducer", "service unit"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end ReducingValve;
