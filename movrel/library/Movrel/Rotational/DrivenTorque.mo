within Movrel.Rotational;
model DrivenTorque "Torque driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn tau(unit="N.m") "Torque on the shaft" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.tau = -tau;
  annotation (
    Icon(graphics={
      Line(points={{-60,-30},{-40,20},{0,44},{40,20},{54,-10}}, color={84,88,40}, thickness=0.5, smooth=Smooth.Bezier),
      Polygon(points={{54,-36},{70,4},{34,-4},{54,-36}}, lineColor={84,88,40}, fillColor={84,88,40}, fillPattern=FillPattern.Solid),
      Line(points={{0,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>A positive signal drives the shaft in the positive sense.</p></html>"),
    __Movrel(synonyms={"moment", "load", "drive", "actuator"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end DrivenTorque;
