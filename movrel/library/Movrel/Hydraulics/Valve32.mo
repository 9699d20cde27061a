within Movrel.Hydraulics;
model Valve32 "3/2 directional valve, switched against a spring"
  import Movrel.Units.*;
  extends OilHeating;
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow through one edge at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 5e5 "Pressure drop of one edge at which q_n flows";
  parameter Ratio leak(min=0, max=1) = 1e-5 "Flow of a closed edge, as a part of q_n";
  parameter Time t_switch(min=1e-6) = 0.03 "Time in which it switches";
  OilPort P "Pressure, from the pump" annotation (Placement(transformation(extent={{-50,-110},{-30,-90}})));
  OilPort T "Return to the tank" annotation (Placement(transformation(extent={{30,-110},{50,-90}})));
  OilPort A "Consumer" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Signals.LogicIn on "Switch to P with A; else A is joined with T" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Ratio x(start=-1, fixed=true) "Position of the spool: 1 joins P with A, -1 A with T";
  Ratio y_PA "How far P is open to A";
  VolumeFlowRate q_PA(displayUnit="l/min") "Flow from P to A";
  Ratio y_AT "How far A is open to T";
  VolumeFlowRate q_AT(displayUnit="l/min") "Flow from A to T";
equation
  der(x) = ((if on then 1 else -1) - x)*3/t_switch;
  y_PA = max(0, x);
  y_AT = max(0, -x);
  q_PA = throttled(P.p - A.p, max(leak, y_PA)*q_n, dp_n, dp_n/100);
  q_AT = throttled(A.p - T.p, max(leak, y_AT)*q_n, dp_n, dp_n/100);
  P.q = q_PA;
  T.q = -q_AT;
  A.q = -q_PA + q_AT;
  loss = P.q*flow_energy(P.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) + T.q*flow_energy(T.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) + A.q*flow_energy(A.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,30},{0,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{0,30},{60,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{68,10},{76,-10},{84,10},{90,0}}, color={40,44,60}),
      Line(points={{-40,-30},{-30,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-16,-30},{-16,-18}}, color={40,44,60}),
      Line(points={{-22,-18},{-10,-18}}, color={40,44,60}),
      Line(points={{30,30},{44,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{16,-30},{16,-18}}, color={40,44,60}),
      Line(points={{10,-18},{22,-18}}, color={40,44,60}),
      Line(points={{30,30},{30,70},{0,70},{0,100}}, color={70,76,138}, thickness=0.5),
      Line(points={{16,-30},{16,-70},{-40,-70},{-40,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{44,-30},{44,-70},{40,-70},{40,-100}}, color={70,76,138}, thickness=0.5),
      Text(extent={{60,80},{280,44}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The spool moves with a time constant of a third of <i>t_switch</i>; each edge: <i>q = y q_n √(Δp/Δp_n)</i>.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "directional control", "three-two"}, source="Merritt, Hydraulic Control Systems, 1967; symbol ISO 1219-1"));
end Valve32;
