within Movrel.Hydraulics;
model Valve22 "2/2 directional valve, switched against a spring"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow through one edge at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 5e5 "Pressure drop of one edge at which q_n flows";
  parameter Ratio leak(min=0, max=1) = 1e-5 "Flow of a closed edge, as a part of q_n";
  parameter Boolean normally_open = false "Open while it is not switched";
  parameter Time t_switch(min=1e-6) = 0.03 "Time in which it switches";
  Movrel.Signals.LogicIn on "Switch it" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Ratio y(start=if normally_open then 1 else 0, fixed=true) "How far it is open";
equation
  der(y) = ((if on <> normally_open then 1 else 0) - y)*3/t_switch;
  q = throttled(dp, max(leak, y)*q_n, dp_n, dp_n/100);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-44,60},{44,0}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-44,0},{44,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-44,30},{44,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-44,-30},{-24,-30}}, color={40,44,60}),
      Line(points={{-24,-20},{-24,-40}}, color={40,44,60}),
      Line(points={{44,-30},{24,-30}}, color={40,44,60}),
      Line(points={{24,-20},{24,-40}}, color={40,44,60}),
      Line(points={{-100,0},{-80,0},{-80,-30},{-44,-30}}, color={70,76,138}, thickness=0.5),
      Line(points={{100,0},{80,0},{80,-30},{44,-30}}, color={70,76,138}, thickness=0.5),
      Line(points={{0,100},{0,60}}, color={40,44,60}),
      Line(points={{0,-60},{-10,-68},{10,-76},{-10,-84},{0,-92}}, color={40,44,60}),
      Text(extent={{20,104},{240,66}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>It opens and closes with a time constant of a third of <i>t_switch</i>; <i>q = y q_n √(Δp/Δp_n)</i>.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "shut-off valve", "two-two", "seat valve"}, source="Merritt, Hydraulic Control Systems, 1967; symbol ISO 1219-1"));
end Valve22;
