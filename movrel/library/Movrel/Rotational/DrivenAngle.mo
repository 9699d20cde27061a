within Movrel.Rotational;
model DrivenAngle "Motion driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn phi(unit="rad") "Angle" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.phi = phi;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Rectangle(extent={{-60,40},{60,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-56,34},{56,-34}}, textString="φ(t)"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>phi</i> is the signal. It must be smooth enough for the plant: with masses behind it, its second derivative is needed.</p></html>"),
    __Movrel(synonyms={"drive", "motion", "kinematic excitation"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end DrivenAngle;
