within Movrel.Pneumatics;
model Valve53 "5/3 directional valve, closed in the middle"
  import Movrel.Units.*;
  extends FiveWays;
  parameter Time t_switch(min=1e-6) = 0.02 "Time in which it switches";
  Movrel.Signals.LogicIn to_a "Switch to P with A" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Signals.LogicIn to_b "Switch to P with B" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  Ratio place(start=0, fixed=true) "Position of the spool";
equation
  place = x;
  der(place) = ((if to_a and not to_b then 1 elseif to_b and not to_a then -1 else 0) - place)*3/t_switch;
  y_PA = max(0, 1.25*x - 0.25);
  y_BS = y_PA;
  y_PB = max(0, -1.25*x - 0.25);
  y_AR = y_PB;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,30},{-30,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,30},{30,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{30,30},{90,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-60,-30},{-80,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-40,30},{-40,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-80,-30},{-80,-18}}, color={40,44,60}),
      Line(points={{-86,-18},{-74,-18}}, color={40,44,60}),
      Line(points={{60,-30},{80,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{40,30},{40,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{80,-30},{80,-18}}, color={40,44,60}),
      Line(points={{74,-18},{86,-18}}, color={40,44,60}),
      Line(points={{-20,30},{-20,16}}, color={40,44,60}),
      Line(points={{-26,16},{-14,16}}, color={40,44,60}),
      Line(points={{20,30},{20,16}}, color={40,44,60}),
      Line(points={{14,16},{26,16}}, color={40,44,60}),
      Line(points={{-20,-30},{-20,-16}}, color={40,44,60}),
      Line(points={{-26,-16},{-14,-16}}, color={40,44,60}),
      Line(points={{0,-30},{0,-16}}, color={40,44,60}),
      Line(points={{-6,-16},{6,-16}}, color={40,44,60}),
      Line(points={{20,-30},{20,-16}}, color={40,44,60}),
      Line(points={{14,-16},{26,-16}}, color={40,44,60}),
      Line(points={{-20,30},{-20,70},{-40,70},{-40,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{20,30},{20,70},{40,70},{40,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{-20,-30},{-20,-70},{-50,-70},{-50,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{0,-30},{0,-70},{0,-70},{0,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{20,-30},{20,-70},{50,-70},{50,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{-100,0},{-90,0}}, color={40,44,60}),
      Line(points={{90,0},{100,0}}, color={40,44,60}),
      Text(extent={{64,86},{280,50}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The spool moves with a time constant of a third of <i>t_switch</i>; each way is a restriction.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "five-three", "directional control"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Valve53;
