within Movrel.Hydraulics;
partial model DisplacementUnit "What displacement pumps and motors have in common"
  import Movrel.Units.*;
  extends OilHeating;
  parameter Volume D(displayUnit="cm3", min=1e-15) = 20e-6 "Displacement of one turn";
  parameter Ratio eta_v(min=0.01, max=1) = 0.95 "Volumetric efficiency at the rated point as a pump";
  parameter Ratio eta_hm(min=0.01, max=1) = 0.93 "Hydromechanical efficiency there";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 200e5 "Rated pressure" annotation (Dialog(group="Rated point"));
  parameter AngularVelocity w_n(displayUnit="rpm", min=1e-3) = 157.0796 "Rated speed" annotation (Dialog(group="Rated point"));
  parameter DynamicViscosity mu_n(min=1e-9) = 0.03 "Viscosity of the oil at the rated point" annotation (Dialog(group="Rated point"));
  parameter Ratio viscous(min=0, max=1) = 0.4 "Part of the friction there that grows with viscosity and speed; the rest grows with pressure" annotation (Dialog(group="Rated point"));
  OilPort a "Suction, or inlet of a motor" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  OilPort b "Delivery, or outlet of a motor" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  AngularVelocity w(displayUnit="rpm") "Speed";
  Pressure dp(displayUnit="bar") "Pressure rise from a to b";
  VolumeFlowRate q(displayUnit="l/min") "Flow from a to b";
  VolumeFlowRate q_leak(displayUnit="l/min") "Flow from b to a past the displacers";
  Torque tau "Torque that the shaft takes up";
  Torque tau_friction "Part of it that is friction";
  Ratio swivel "Displacement over the full one";
protected
  parameter Torque tau_lost = D/(2*pi)*dp_n*(1/eta_hm - 1) "Friction at the rated point";
  Ratio v_in "Relative volume of the oil that is taken in";
equation
  w = der(shaft.phi);
  dp = b.p - a.p;
  v_in = relative_volume(if noEvent(swivel*w > 0) then a.p else b.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  q = swivel*D/(2*pi)*w/v_in - q_leak;
  q_leak = (1 - eta_v)*D/(2*pi)*w_n*mu_n/oil.mu*dp/dp_n;
  tau_friction = tau_lost*(viscous*oil.mu*w/(mu_n*w_n) + (1 - viscous)*abs(dp)/dp_n*w/sqrt(w^2 + (0.005*w_n)^2));
  tau = swivel*D/(2*pi)*dp + tau_friction;
  shaft.tau = tau;
  a.q = q;
  b.q = -q;
  loss = tau*w - q*(flow_energy(b.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) - flow_energy(a.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient));
  annotation (
    Documentation(info="<html><p><i>q = x D n - leakage</i>, <i>τ = x D Δp/(2π) + friction</i>, in all four quadrants. The leakage grows with Δp/μ, the friction in one part with μ n and in another with Δp; both follow from the efficiencies at the rated point.</p></html>"),
    __Movrel(source="Wilson, Positive-Displacement Pumps and Fluid Motors, 1950"));
end DisplacementUnit;
