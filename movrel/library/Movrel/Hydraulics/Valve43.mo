within Movrel.Hydraulics;
model Valve43 "4/3 directional valve, switched from both sides"
  import Movrel.Units.*;
  extends FourWayValve(q_n=40/60000, dp_n=5e5);
  parameter Centre centre = Centre.closed "Middle position";
  parameter Time t_switch(min=1e-6) = 0.03 "Time in which it switches";
  Movrel.Signals.LogicIn to_a "Switch to P with A" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.LogicIn to_b "Switch to P with B" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  Ratio spool(start=0, fixed=true) "Position of the spool";
  Ratio middle "How far it is in its middle position";
equation
  spool = x;
  der(spool) = ((if to_a and not to_b then 1 elseif to_b and not to_a then -1 else 0) - spool)*3/t_switch;
  middle = max(0, 1 - 3*abs(x));
  y_PA = max(0, 1.5*x - 0.5) + (if centre == Centre.open then middle else 0);
  y_BT = max(0, 1.5*x - 0.5) + (if centre == Centre.open or centre == Centre.float then middle else 0);
  y_PB = max(0, -1.5*x - 0.5) + (if centre == Centre.open then middle else 0);
  y_AT = max(0, -1.5*x - 0.5) + (if centre == Centre.open or centre == Centre.float then middle else 0);
  y_PT = if centre == Centre.tandem then middle else 0;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,30},{-30,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,30},{30,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{30,30},{90,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-76,-30},{-76,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-44,30},{-44,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{44,-30},{76,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{44,30},{76,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-16,30},{-16,16}}, color={40,44,60}),
      Line(points={{-22,16},{-10,16}}, color={40,44,60}),
      Line(points={{-16,-30},{-16,-16}}, color={40,44,60}),
      Line(points={{-22,-16},{-10,-16}}, color={40,44,60}),
      Line(points={{16,30},{16,16}}, color={40,44,60}),
      Line(points={{10,16},{22,16}}, color={40,44,60}),
      Line(points={{16,-30},{16,-16}}, color={40,44,60}),
      Line(points={{10,-16},{22,-16}}, color={40,44,60}),
      Line(points={{-16,30},{-16,70},{-40,70},{-40,100}}, color={70,76,138}, thickness=0.5),
      Line(points={{-16,-30},{-16,-70},{-40,-70},{-40,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{16,30},{16,70},{40,70},{40,100}}, color={70,76,138}, thickness=0.5),
      Line(points={{16,-30},{16,-70},{40,-70},{40,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{-100,0},{-90,0}}, color={40,44,60}),
      Line(points={{90,0},{100,0}}, color={40,44,60}),
      Text(extent={{60,80},{280,44}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The spool moves with a time constant of a third of <i>t_switch</i>; each edge: <i>q = y q_n √(Δp/Δp_n)</i>.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "directional control", "four-three"}, source="Merritt, Hydraulic Control Systems, 1967, section 5-2; symbol ISO 1219-1"));
end Valve43;
