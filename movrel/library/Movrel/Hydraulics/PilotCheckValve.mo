within Movrel.Hydraulics;
model PilotCheckValve "Check valve that a pilot pressure opens backwards"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter Pressure p_open(displayUnit="bar", min=0) = 0.5e5 "Pressure difference that opens it forwards";
  parameter Ratio ratio(min=0.01) = 3 "Area of the pilot piston over that of the seat";
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 10e5 "Pressure drop at which q_n flows";
  parameter Pressure p_span(displayUnit="bar", min=1) = 5e5 "Pressure from beginning to fully open";
  parameter Time T(min=1e-6) = 2e-3 "Time constant of its poppet";
  parameter Ratio leak(min=1e-15, max=1) = 1e-7 "Flow when closed, as a part of q_n";
  OilPort x "Pilot; no flow" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Ratio y(start=0, fixed=true) "How far the pilot opens it";
equation
  x.q = 0;
  T*der(y) = min(max((ratio*(x.p - a.p) - (b.p - a.p) - p_open)/p_span, 0), 1) - y;
  q = (if dp > p_open then 1 else leak)*throttled(dp - p_open, q_n, dp_n, dp_n/100) + leak*throttled(p_open, q_n, dp_n, dp_n/100)
    + y*(throttled(dp, q_n, dp_n, dp_n/100) - (if dp > p_open then throttled(dp - p_open, q_n, dp_n, dp_n/100) else 0));
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{30,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Rectangle(extent={{-50,56},{50,-56}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, pattern=LinePattern.Dash),
      Ellipse(extent={{-26,22},{18,-22}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-10,-44},{-34,0},{-10,44}}, color={40,44,60}),
      Line(points={{0,-100},{0,-56}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p>Forwards a check valve. Backwards it opens when the pilot presses more than the load: <i>r (p_x - p_a) > p_b - p_a + p_open</i>.</p></html>"),
    __Movrel(synonyms={"pilot-operated check", "lock valve", "load holding"}, source="Merritt, Hydraulic Control Systems, 1967; symbol ISO 1219-1"));
end PilotCheckValve;
