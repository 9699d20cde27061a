within Movrel.Rotational;
model Inertia "Body that turns, with its moment of inertia"
  import Movrel.Units.*;
  parameter MomentOfInertia J(min=0) = 1 "Moment of inertia";
  parameter Angle phi_start(displayUnit="deg") = 0 "Angle at the start";
  parameter AngularVelocity w_start = 0 "Speed at the start";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi(start=phi_start, stateSelect=StateSelect.prefer, displayUnit="deg") "Angle";
  AngularVelocity w(start=w_start, stateSelect=StateSelect.prefer) "Speed";
  Torque tau "Torque that accelerates";
equation
  phi = a.phi;
  phi = b.phi;
  w = der(phi);
  tau = a.tau + b.tau;
  J*der(w) = tau;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-40,70},{40,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{40,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%J")}),
    Documentation(info="<html><p>Newton and Euler about a fixed axis: <i>J d²phi/dt² = tau_a + tau_b</i>.</p></html>"),
    __Movrel(synonyms={"flywheel", "rotor", "rotating mass", "leaf"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Inertia;
