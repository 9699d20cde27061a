within Movrel.Translational;
model DryFriction "Coulomb and Stribeck friction against the ground that really sticks"
  import Movrel.Units.*;
  extends Sticking(f_drag = d*v_rel);
  parameter Force f_c(min=0) = 1 "Coulomb friction";
  parameter Force f_s(min=0) = f_c "Friction from standstill, at least the Coulomb friction";
  parameter Velocity v_s(min=1e-12) = 0.01 "Stribeck speed";
  parameter TranslationalDamping d(min=0) = 0 "Viscous friction";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
equation
  assert(f_s >= f_c, "f_s must not be below f_c");
  s_rel = a.s;
  a.f = f;
  f_slip = f_c + (f_s - f_c)*exp(-(v_rel/v_s)^2);
  f_static = f_s;
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
      Text(extent={{-150,-108},{150,-142}}, textString="%f_c")}),
    Documentation(info="<html><p><i>f = f_c + (f_s - f_c) exp(-(v/v_s)²) + d |v|</i> against the motion. It really sticks: while it does, the speed keeps its value and the force is what the rest of the plant asks for, up to the static limit; the change of state is an event.</p></html>"),
    __Movrel(synonyms={"Coulomb", "Stribeck", "stiction", "stick-slip", "bearing"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end DryFriction;
