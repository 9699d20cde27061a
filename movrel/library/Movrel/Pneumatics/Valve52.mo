within Movrel.Pneumatics;
model Valve52 "5/2 directional valve, switched against a spring"
  import Movrel.Units.*;
  extends FiveWays;
  parameter Time t_switch(min=1e-6) = 0.02 "Time in which it switches";
  Movrel.Signals.LogicIn on "Switch to P with A; else P is joined with B" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
protected
  Ratio place(start=-1, fixed=true) "Position of the spool";
equation
  place = x;
  der(place) = ((if on then 1 else -1) - place)*3/t_switch;
  y_PA = max(0, x);
  y_BS = y_PA;
  y_PB = max(0, -x);
  y_AR = y_PB;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,30},{0,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{0,30},{60,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-30,-30},{-50,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-10,30},{-10,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-50,-30},{-50,-18}}, color={40,44,60}),
      Line(points={{-56,-18},{-44,-18}}, color={40,44,60}),
      Line(points={{30,-30},{50,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{10,30},{10,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{50,-30},{50,-18}}, color={40,44,60}),
      Line(points={{44,-18},{56,-18}}, color={40,44,60}),
      Line(points={{10,30},{10,70},{-40,70},{-40,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{50,30},{50,70},{40,70},{40,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{10,-30},{10,-70},{-50,-70},{-50,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{30,-30},{30,-70},{0,-70},{0,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{50,-30},{50,-70},{50,-70},{50,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{68,10},{76,-10},{84,10},{90,0}}, color={40,44,60}),
      Text(extent={{64,86},{280,50}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The spool moves with a time constant of a third of <i>t_switch</i>; each way is a restriction.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "five-two", "4/2", "directional control"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Valve52;
