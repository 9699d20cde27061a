within Movrel.Rotational;
model Backlash "Play between two sides, elastic at the flanks"
  import Movrel.Units.*;
  parameter Angle play(min=0) = 0.02 "Whole play";
  parameter RotationalStiffness c(min=0) = 1e4 "Stiffness of the flanks";
  parameter RotationalDamping d(min=0) = 1 "Damping of the flanks";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi_rel "Twist of the ends";
  AngularVelocity w_rel "Speed of b against a";
  Torque tau "Torque that it transmits";
equation
  phi_rel = b.phi - a.phi;
  w_rel = der(phi_rel);
  a.tau = -tau;
  b.tau = tau;
  tau = if phi_rel > play/2 then max(0, c*(phi_rel - play/2) + d*w_rel)
    elseif phi_rel < -play/2 then min(0, c*(phi_rel + play/2) + d*w_rel) else 0;
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
