within Movrel.Translational;
model Damper "Damper, force in proportion to the speed"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter TranslationalDamping d(min=0) = 1 "Damping constant";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length s_rel "Distance of the ends";
  Velocity v_rel "Speed of b against a";
  Force f "Force that it transmits";
equation
  s_rel = b.s - a.s;
  v_rel = der(s_rel);
  a.f = -f;
  b.f = f;
  f = d*v_rel;
  loss = f*v_rel;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-50,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,40},{-50,40},{-50,-40},{60,-40}}, color={40,44,60}),
      Line(points={{10,30},{10,-30}}, color={40,44,60}, thickness=0.5),
      Line(points={{10,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p><i>f = d v_rel</i></p></html>"),
    __Movrel(synonyms={"dashpot", "viscous", "damping"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Damper;
