within Movrel.Electrical;
model DrivenCurrent "Current driven by a signal"
  import Movrel.Units.*;
  extends TwoTerminals;
  Movrel.Signals.SignalIn u(unit="A") "Current from a to b through the source" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  i = u;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{0,50},{0,-50}}, color={40,44,60}),
      Line(points={{0,100},{0,50}}, color={40,44,60}),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>i</i> is the signal</p></html>"),
    __Movrel(synonyms={"controlled source", "load profile"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end DrivenCurrent;
