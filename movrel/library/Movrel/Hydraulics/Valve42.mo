within Movrel.Hydraulics;
model Valve42 "4/2 directional valve, switched against a spring"
  import Movrel.Units.*;
  extends FourWayValve(q_n=40/60000, dp_n=5e5);
  parameter Time t_switch(min=1e-6) = 0.03 "Time in which it switches";
  Movrel.Signals.LogicIn on "Switch to P with A; else P is joined with B" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
protected
  Ratio spool(start=-1, fixed=true) "Position of the spool";
equation
  spool = x;
  der(spool) = ((if on then 1 else -1) - spool)*3/t_switch;
  y_PA = max(0, x);
  y_BT = y_PA;
  y_PB = max(0, -x);
  y_AT = y_PB;
  y_PT = 0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,30},{0,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{0,30},{60,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{68,10},{76,-10},{84,10},{90,0}}, color={40,44,60}),
      Line(points={{-48,-30},{-48,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-12,30},{-12,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{12,-30},{48,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{12,30},{48,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{12,-30},{12,-70},{-40,-70},{-40,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{12,30},{12,70},{-40,70},{-40,100}}, color={70,76,138}, thickness=0.5),
      Line(points={{12,-30},{48,-70},{40,-70},{40,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{12,30},{48,70},{40,70},{40,100}}, color={70,76,138}, thickness=0.5),
      Text(extent={{60,80},{280,44}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The spool moves with a time constant of a third of <i>t_switch</i>; each edge: <i>q = y q_n √(Δp/Δp_n)</i>.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "directional control", "four-two"}, source="Merritt, Hydraulic Control Systems, 1967, section 5-2; symbol ISO 1219-1"));
end Valve42;
