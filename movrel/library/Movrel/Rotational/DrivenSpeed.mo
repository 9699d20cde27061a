within Movrel.Rotational;
model DrivenSpeed "Speed driven by a signal"
  import Movrel.Units.*;
  parameter Angle phi_start = 0 "Angle at the start";
  Movrel.Signals.SignalIn w(unit="rad/s") "Speed" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi(start=phi_start, stateSelect=StateSelect.prefer) "Angle";
equation
  der(phi) = w;
  b.phi = phi;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Rectangle(extent={{-60,40},{60,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-56,34},{56,-34}}, textString="ω(t)"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>dphi/dt</i> is the signal; the torque is whatever it takes.</p></html>"),
    __Movrel(synonyms={"drive", "motion", "velocity source"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end DrivenSpeed;
