within Movrel.Rotational;
model SpringDamper "Spring and damper side by side"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter RotationalStiffness c(min=0) = 10 "Stiffness";
  parameter RotationalDamping d(min=0) = 1 "Damping constant";
  parameter Angle phi_0 = 0 "Twist without torque";
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
  tau = c*(phi_rel - phi_0) + d*w_rel;
  loss = d*w_rel^2;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-80,0},{-80,40},{-60,40},{-50,70},{-30,10},{-10,70},{10,10},{30,70},{50,10},{60,40},{80,40},{80,0},{100,0}}, color={40,44,60}),
      Line(points={{-80,0},{-80,-40},{-30,-40}}, color={40,44,60}),
      Line(points={{40,-15},{-30,-15},{-30,-65},{40,-65}}, color={40,44,60}),
      Line(points={{5,-22},{5,-58}}, color={40,44,60}, thickness=0.5),
      Line(points={{5,-40},{80,-40},{80,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%c")}),
    Documentation(info="<html><p><i>tau = c (phi_rel - phi_0) + d w_rel</i> (Kelvin and Voigt)</p></html>"),
    __Movrel(synonyms={"suspension", "mount", "compliance", "elastic shaft"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end SpringDamper;
