within Movrel.Rotational;
model Bearing "Viscous and dry friction of a bearing, smoothed about standstill"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter RotationalDamping d(min=0) = 0 "Viscous friction";
  parameter Torque tau_dry(min=0) = 0 "Dry friction while it turns";
  parameter AngularVelocity w_small(min=1e-9) = 1e-3 "Speed below which dry friction grows with the speed";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  AngularVelocity w "Speed";
  Torque tau "Friction torque";
equation
  w = der(a.phi);
  tau = d*w + tau_dry*tanh(w/w_small);
  a.tau = tau;
  loss = tau*w;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{0,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-20,30},{20,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-40,-30},{40,-30}}, color={40,44,60}, thickness=0.5),
      Line(points={{-40,-46},{-24,-30}}, color={40,44,60}),
      Line(points={{-16,-46},{0,-30}}, color={40,44,60}),
      Line(points={{8,-46},{24,-30}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p><i>tau = d w + tau_dry tanh(w/w_small)</i>. It creeps at standstill; for friction that sticks take a brake.</p></html>"),
    __Movrel(synonyms={"damper", "damping", "drag"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Bearing;
