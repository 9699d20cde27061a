within Movrel.Rotational;
model Damper "Torsional damper, torque in proportion to the speed"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter RotationalDamping d(min=0) = 1 "Damping constant";
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
  tau = d*w_rel;
  loss = tau*w_rel;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-50,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,40},{-50,40},{-50,-40},{60,-40}}, color={40,44,60}),
      Line(points={{10,30},{10,-30}}, color={40,44,60}, thickness=0.5),
      Line(points={{10,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p><i>tau = d w_rel</i></p></html>"),
    __Movrel(synonyms={"dashpot", "viscous", "damping"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Damper;
