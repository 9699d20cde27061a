within Movrel.Translational;
model Backlash "Play between two sides, elastic at the flanks"
  import Movrel.Units.*;
  parameter Length play(min=0) = 1e-3 "Whole play";
  parameter TranslationalStiffness c(min=0) = 1e6 "Stiffness of the flanks";
  parameter TranslationalDamping d(min=0) = 100 "Damping of the flanks";
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
  f = if s_rel > play/2 then max(0, c*(s_rel - play/2) + d*v_rel)
    elseif s_rel < -play/2 then min(0, c*(s_rel + play/2) + d*v_rel) else 0;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0},{-40,40},{50,40},{50,20}}, color={40,44,60}, thickness=0.5),
      Line(points={{-40,0},{-40,-40},{50,-40},{50,-20}}, color={40,44,60}, thickness=0.5),
      Line(points={{100,0},{10,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{10,18},{10,-18}}, color={40,44,60}, thickness=1),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%play")}),
    Documentation(info="<html><p>Without contact within the play; at a flank a spring and a damper that only push.</p></html>"),
    __Movrel(synonyms={"play", "dead band", "gear lash", "slack"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end Backlash;
