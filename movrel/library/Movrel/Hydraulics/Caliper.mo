within Movrel.Hydraulics;
model Caliper "Brake caliper on a disc"
  import Movrel.Units.*;
  extends Movrel.Rotational.Sticking;
  parameter Length d_piston(min=1e-9, displayUnit="mm") = 0.054 "Diameter of a piston";
  parameter Integer pistons(min=1) = 1 "Pistons that press one pad";
  parameter Length r(min=1e-9) = 0.11 "Radius at which the pads act";
  parameter Ratio mu(min=0) = 0.38 "Friction of pad and disc";
  parameter Ratio peak(min=1) = 1.1 "Friction from standstill over that while it slides";
  parameter Length clearance(min=0, displayUnit="mm") = 2e-4 "Way of the pistons until the pads touch";
  parameter TranslationalStiffness c(min=1e-3) = 3e7 "Stiffness of pads and caliper";
  parameter Pressure p_touch(displayUnit="bar", min=1) = 0.5e5 "Pressure at which the pads touch";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = 2e-6 "Oil in it at rest";
  final parameter Area A = pistons*pi*d_piston^2/4 "Area of the pistons of one pad";
  outer Movrel.Hydraulics.Oil oil "Oil of the circuit";
  Movrel.Hydraulics.OilPort port "Brake line" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Rotational.Shaft disc "Disc" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Pressure p(start=0, stateSelect=StateSelect.prefer, displayUnit="bar") "Pressure";
  Force f_pad "Force of a pad on the disc";
  Volume V(displayUnit="cm3") "Oil that its pistons have taken up";
protected
  Boolean touches "The pads touch the disc";
  Real soft(unit="m3/Pa") "Growth of the volume with the pressure";
equation
  phi_rel = disc.phi;
  disc.tau = tau;
  touches = p > p_touch;
  f_pad = if touches then A*(p - p_touch) else 0;
  tau_slip = 2*mu*r*f_pad;
  tau_static = peak*tau_slip;
  V = if touches then A*(clearance + A*(p - p_touch)/c) else A*clearance*p/p_touch;
  soft = if touches then A^2/c else A*clearance/p_touch;
  port.p = p;
  ((V + V_dead)*capacity(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) + soft/relative_volume(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient))*der(p) = port.q;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{60,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-6,70},{6,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{-34,86},{34,86},{34,30},{12,30},{12,62},{-12,62},{-12,30},{-34,30},{-34,86}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,100},{0,86}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,-80},{150,-120}}, textString="%name")}),
    Documentation(info="<html><p><i>f = A (p - p_touch)</i> on each side of the disc, <i>τ = 2 μ r f</i> while it slides; it really sticks at standstill. The clearance and the elasticity of pads and caliper take up oil: the travel of the pedal.</p></html>"),
    __Movrel(synonyms={"disc brake", "brake", "pads", "brake torque"}, source="Limpert, Brake Design and Safety, 3rd ed. 2011, chapter 5"));
end Caliper;
