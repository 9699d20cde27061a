within Movrel.Pneumatics;
model PilotCheckValve "Check valve that a pilot pressure opens backwards"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Pressure p_open(displayUnit="bar", min=0) = 0.05e5 "Pressure difference that opens it forwards";
  parameter Ratio ratio(min=0.01) = 2 "Area of the pilot piston over that of the seat";
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Pressure p_span(displayUnit="bar", min=1) = 0.3e5 "Pressure from beginning to fully open";
  parameter Time T_valve(min=1e-6) = 5e-3 "Time constant of its poppet";
  parameter Ratio leak(min=0, max=1) = 1e-7 "Conductance when closed, as a part of C";
  GasPort x "Pilot; no flow" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Ratio y(start=0, fixed=true) "How far the pilot opens it";
equation
  x.m = 0;
  x.h = gas.c_p*gas.T_ambient;
  T_valve*der(y) = min(max((ratio*(x.p - gas.p_ambient) - (b.p - a.p) - p_open)/p_span, 0), 1) - y;
  m = sonic_flow(a.p, b.p, T, max(leak, max(y, min(1, (dp - p_open)/(p_open + 1000))))*C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{30,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Rectangle(extent={{-50,56},{50,-56}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, pattern=LinePattern.Dash),
      Ellipse(extent={{-26,22},{18,-22}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-10,-44},{-34,0},{-10,44}}, color={40,44,60}),
      Line(points={{0,-100},{0,-56}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p>Forwards a check valve; backwards it opens when the pilot presses more than the load.</p></html>"),
    __Movrel(synonyms={"pilot-operated check", "load holding", "stop valve"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end PilotCheckValve;
