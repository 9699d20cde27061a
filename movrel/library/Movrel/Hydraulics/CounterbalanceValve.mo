within Movrel.Hydraulics;
model CounterbalanceValve "Counterbalance valve: holds a load and lets it down under control"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter Pressure p_set(displayUnit="bar") = 250e5 "Pressure of the load at which it begins to open by itself";
  parameter Ratio ratio(min=0) = 3 "How much more the pilot opens it than the load";
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 10e5 "Pressure drop at which q_n flows";
  parameter Pressure p_span(displayUnit="bar", min=1) = 5e5 "Pressure from beginning to fully open";
  parameter Time T(min=1e-6) = 2e-3 "Time constant of its poppet";
  parameter Ratio leak(min=1e-15, max=1) = 1e-7 "Flow when closed, as a part of q_n";
  OilPort x "Pilot; no flow" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Ratio y(start=0, fixed=true) "How far it is open from the load a to b";
equation
  x.q = 0;
  T*der(y) = min(max((a.p + ratio*x.p - p_set)/p_span, 0), 1) - y;
  q = max(leak, if noEvent(dp < 0) then 1 else y)*throttled(dp, q_n, dp_n, dp_n/100);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-44,44},{44,-44}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-44,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{44,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{-44,-22},{44,-22}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{0,44},{-12,52},{12,62},{-12,72},{12,82},{0,90}}, color={40,44,60}),
      Line(points={{0,-100},{0,-44}}, color={40,44,60}, pattern=LinePattern.Dash),
      Line(points={{-44,34},{44,34}}, color={40,44,60}),
      Text(extent={{20,100},{240,62}}, textString="%name", horizontalAlignment=TextAlignment.Left),
      Text(extent={{16,-108},{240,-142}}, textString="%p_set", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>From the load: <i>T dy/dt = (p_a + r p_x - p_set)/p_span - y</i> within 0 and 1; to the load it is a check valve.</p></html>"),
    __Movrel(synonyms={"load holding", "overcentre", "brake valve", "lowering"}, source="Merritt, Hydraulic Control Systems, 1967; symbol ISO 1219-1"));
end CounterbalanceValve;
