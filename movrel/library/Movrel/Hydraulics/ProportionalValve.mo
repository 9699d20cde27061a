within Movrel.Hydraulics;
model ProportionalValve "4/3 proportional or servo valve: the spool follows a signal"
  import Movrel.Units.*;
  extends FourWayValve(q_n=40/60000, dp_n=5e5);
  parameter Ratio lap(min=-0.9, max=0.9) = 0.05 "Overlap of the edges over the travel of the spool; negative: underlap";
  parameter Frequency f_0(min=1e-3) = 60 "Natural frequency of the spool, or where its phase lags by 90°";
  parameter Ratio D_0(min=0) = 0.8 "Damping ratio of the spool";
  Movrel.Signals.SignalIn u "Command, -1 to 1" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Real v(unit="1/s", start=0, fixed=true) "Speed of the spool";
protected
  Ratio spool(start=0, fixed=true) "Position of the spool";
  parameter AngularVelocity w_0 = 2*pi*f_0 "Natural angular frequency";
equation
  spool = x;
  der(spool) = v;
  der(v) = w_0^2*(min(max(u, -1), 1) - spool) - 2*D_0*w_0*v;
  y_PA = min(max((x - lap)/(1 - lap), 0), 1);
  y_BT = y_PA;
  y_PB = min(max((-x - lap)/(1 - lap), 0), 1);
  y_AT = y_PB;
  y_PT = 0;
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
      Line(points={{-90,38},{90,38}}, color={40,44,60}),
      Line(points={{-90,-38},{90,-38}}, color={40,44,60}),
      Text(extent={{60,80},{280,44}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>x'' + 2 D w_0 x' + w_0² x = w_0² u</i>; each edge opens by <i>(x - lap)/(1 - lap)</i>, <i>q = y q_n √(Δp/Δp_n)</i>. A servo valve has no lap and a high natural frequency; its flow is mostly given at 70 bar over both edges, 35 bar over one.</p></html>"),
    __Movrel(synonyms={"servo valve", "servovalve", "directional control", "spool"}, source="Merritt, Hydraulic Control Systems, 1967, sections 5-2 and 7-1; symbol ISO 1219-1"));
end ProportionalValve;
