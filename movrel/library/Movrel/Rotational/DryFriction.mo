within Movrel.Rotational;
model DryFriction "Coulomb and Stribeck friction against the ground that really sticks"
  import Movrel.Units.*;
  extends Sticking(tau_drag = d*w_rel);
  parameter Torque tau_c(min=0) = 1 "Coulomb friction";
  parameter Torque tau_s(min=0) = tau_c "Friction from standstill, at least the Coulomb friction";
  parameter AngularVelocity w_s(min=1e-12) = 0.1 "Stribeck speed";
  parameter RotationalDamping d(min=0) = 0 "Viscous friction";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
equation
  assert(tau_s >= tau_c, "tau_s must not be below tau_c");
  phi_rel = a.phi;
  a.tau = tau;
  tau_slip = tau_c + (tau_s - tau_c)*exp(-(w_rel/w_s)^2);
  tau_static = tau_s;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{0,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-40,26},{40,0}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-60,0},{60,0}}, color={40,44,60}),
      Line(points={{-60,-26},{-40,0}}, color={40,44,60}),
      Line(points={{-30,-26},{-10,0}}, color={40,44,60}),
      Line(points={{0,-26},{20,0}}, color={40,44,60}),
      Line(points={{30,-26},{50,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%tau_c")}),
    Documentation(info="<html><p><i>tau = tau_c + (tau_s - tau_c) exp(-(w/w_s)²) + d |w|</i> against the motion. It really sticks: while it does, the speed keeps its value and the torque is what the rest of the plant asks for, up to the static limit; the change of state is an event.</p></html>"),
    __Movrel(synonyms={"Coulomb", "Stribeck", "stiction", "stick-slip", "bearing"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end DryFriction;
