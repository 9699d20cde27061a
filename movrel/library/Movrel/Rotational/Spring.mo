within Movrel.Rotational;
model Spring "Torsion spring, straight characteristic"
  import Movrel.Units.*;
  parameter RotationalStiffness c(min=0) = 1 "Stiffness";
  parameter Angle phi_0(displayUnit="deg") = 0 "Twist without torque";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Torque tau "Torque that it transmits";
equation
  tau = c*(b.phi - a.phi - phi_0);
  a.tau = -tau;
  b.tau = tau;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0},{-50,40},{-30,-40},{-10,40},{10,-40},{30,40},{50,-40},{60,0},{100,0}}, color={40,44,60}, thickness=0.25),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%c")}),
    Documentation(info="<html><p><i>tau = c (phi_b - phi_a - phi_0)</i></p></html>"),
    __Movrel(synonyms={"torsion bar", "stiffness", "elastic shaft"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Spring;
