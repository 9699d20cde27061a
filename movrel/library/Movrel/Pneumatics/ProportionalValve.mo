within Movrel.Pneumatics;
model ProportionalValve "5/3 proportional valve: the spool follows a signal"
  import Movrel.Units.*;
  extends FiveWays;
  parameter Ratio lap(min=-0.9, max=0.9) = 0 "Overlap of the edges over the travel of the spool; negative: underlap";
  parameter Frequency f_0(min=1e-3) = 80 "Natural frequency of the spool";
  parameter Ratio D_0(min=0) = 0.8 "Damping ratio of the spool";
  Movrel.Signals.SignalIn u "Command, -1 to 1" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Real v(unit="1/s", start=0, fixed=true) "Speed of the spool";
protected
  Ratio place(start=0, fixed=true) "Position of the spool";
  parameter AngularVelocity w_0 = 2*pi*f_0 "Natural angular frequency";
equation
  place = x;
  der(place) = v;
  der(v) = w_0^2*(min(max(u, -1), 1) - place) - 2*D_0*w_0*v;
  y_PA = min(max((x - lap)/(1 - lap), 0), 1);
  y_BS = y_PA;
  y_PB = min(max((-x - lap)/(1 - lap), 0), 1);
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
      Line(points={{-90,38},{90,38}}, color={40,44,60}),
      Line(points={{-90,-38},{90,-38}}, color={40,44,60}),
      Text(extent={{64,86},{280,50}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>x'' + 2 D w_0 x' + w_0² x = w_0² u</i>; each way opens by <i>(x - lap)/(1 - lap)</i>, flow by its sonic conductance.</p></html>"),
    __Movrel(synonyms={"servo valve", "directional control", "spool"}, source="Beater, Pneumatic Drives, 2007; ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end ProportionalValve;
