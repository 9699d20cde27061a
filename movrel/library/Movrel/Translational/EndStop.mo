within Movrel.Translational;
model EndStop "Elastic stops at both ends of a travel"
  import Movrel.Units.*;
  parameter Length s_max = 0.1 "Upper end of the free travel";
  parameter Length s_min = -0.1 "Lower end of the free travel";
  parameter TranslationalStiffness c(min=0) = 1e5 "Stiffness of the stops";
  parameter TranslationalDamping d(min=0) = 100 "Damping of the stops";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length s_rel "Distance of the ends";
  Velocity v_rel "Speed of b against a";
  Force f "Force that it transmits";
equation
  assert(s_max > s_min, "s_max must be above s_min");
  s_rel = b.s - a.s;
  v_rel = der(s_rel);
  a.f = -f;
  b.f = f;
  f = if s_rel > s_max then max(0, c*(s_rel - s_max) + d*v_rel)
    elseif s_rel < s_min then min(0, c*(s_rel - s_min) + d*v_rel) else 0;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-50,60},{-50,-60}}, color={40,44,60}, thickness=1),
      Line(points={{50,60},{50,-60}}, color={40,44,60}, thickness=1),
      Rectangle(extent={{-16,30},{16,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Within the travel nothing; at a stop a spring and a damper that only push.</p></html>"),
    __Movrel(synonyms={"limit", "bumper", "buffer", "hard stop"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end EndStop;
