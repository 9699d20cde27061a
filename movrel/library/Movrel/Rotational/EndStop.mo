within Movrel.Rotational;
model EndStop "Elastic stops at both ends of a travel"
  import Movrel.Units.*;
  parameter Angle phi_max = 1 "Upper end of the free travel";
  parameter Angle phi_min = -1 "Lower end of the free travel";
  parameter RotationalStiffness c(min=0) = 1e3 "Stiffness of the stops";
  parameter RotationalDamping d(min=0) = 1 "Damping of the stops";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi_rel "Twist of the ends";
  AngularVelocity w_rel "Speed of b against a";
  Torque tau "Torque that it transmits";
equation
  assert(phi_max > phi_min, "phi_max must be above phi_min");
  phi_rel = b.phi - a.phi;
  w_rel = der(phi_rel);
  a.tau = -tau;
  b.tau = tau;
  tau = if phi_rel > phi_max then max(0, c*(phi_rel - phi_max) + d*w_rel)
    elseif phi_rel < phi_min then min(0, c*(phi_rel - phi_min) + d*w_rel) else 0;
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
