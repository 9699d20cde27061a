within Movrel.Rotational;
model GravityTorque "Torque of gravity on an eccentric mass"
  import Movrel.Units.*;
  parameter Mass m(min=0) = 1 "Mass";
  parameter Length r = 1 "Distance of its centre from the axis";
  parameter Angle phi_0(displayUnit="deg") = 0 "Angle of the shaft at which the arm is level";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Torque tau "Torque of gravity on the shaft";
equation
  tau = -m*g_n*r*cos(a.phi - phi_0);
  a.tau = -tau;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{0,0}}, color={40,44,60}, thickness=0.5),
      Ellipse(extent={{-10,10},{10,-10}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,0},{60,0}}, color={40,44,60}, thickness=0.5),
      Ellipse(extent={{44,18},{80,-18}}, lineColor={40,44,60}, fillColor={40,44,60}, fillPattern=FillPattern.Solid),
      Line(points={{62,-18},{62,-70}}, color={84,88,40}, thickness=0.5),
      Polygon(points={{54,-60},{70,-60},{62,-80},{54,-60}}, lineColor={84,88,40}, fillColor={84,88,40}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%m")}),
    Documentation(info="<html><p><i>tau = -m g r cos(phi - phi_0)</i>; only the torque: the mass itself belongs into an inertia with <i>m r²</i></p></html>"),
    __Movrel(synonyms={"counterweight", "pendulum", "bridge leaf", "unbalance"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end GravityTorque;
