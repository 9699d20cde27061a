within Movrel.Translational;
model DrivenSpeed "Speed driven by a signal"
  import Movrel.Units.*;
  parameter Length s_start = 0 "Position at the start";
  Movrel.Signals.SignalIn v(unit="m/s") "Speed" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length s(start=s_start, stateSelect=StateSelect.prefer) "Position";
equation
  der(s) = v;
  b.s = s;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Rectangle(extent={{-60,40},{60,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-56,34},{56,-34}}, textString="v(t)"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>ds/dt</i> is the signal; the force is whatever it takes.</p></html>"),
    __Movrel(synonyms={"drive", "motion", "velocity source"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end DrivenSpeed;
