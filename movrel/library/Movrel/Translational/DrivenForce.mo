within Movrel.Translational;
model DrivenForce "Force driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn f(unit="N") "Force on the rod" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Rod b "Where it acts" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.f = -f;
  annotation (
    Icon(graphics={
      Line(points={{-70,0},{60,0}}, color={84,88,40}, thickness=1),
      Polygon(points={{60,20},{96,0},{60,-20},{60,20}}, lineColor={84,88,40}, fillColor={84,88,40}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>A positive signal pushes in the positive sense.</p></html>"),
    __Movrel(synonyms={"load", "drive", "actuator", "push"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end DrivenForce;
