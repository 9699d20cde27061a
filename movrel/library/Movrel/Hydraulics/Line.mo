within Movrel.Hydraulics;
model Line "Line with inertia, friction and compliance, in cells"
  import Movrel.Units.*;
  extends OilHeating;
  parameter Length l(min=1e-9) = 5 "Length";
  parameter Length d(min=1e-9, displayUnit="mm") = 0.016 "Inner diameter";
  parameter Integer n(min=1) = 1 "Number of cells" annotation (Evaluate=true);
  parameter Length k(min=0, displayUnit="mm") = 0.01e-3 "Roughness of the wall";
  parameter Ratio xi(min=0) = 0.3 "Damping of the fastest waves that the cells show, for unsteady friction";
  parameter Pressure K_wall(displayUnit="bar", min=1) = 1e11 "Pressure over relative growth of the volume; a hose has much less than a tube";
  parameter Pressure p_start(displayUnit="bar") = 0 "Pressure at the start";
  OilPort a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  OilPort b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure p[n + 1](each displayUnit="bar", each start=p_start, each stateSelect=StateSelect.prefer) "Pressure at the ends and between the cells";
  VolumeFlowRate q[n](each displayUnit="l/min", each nominal=1e-3, each start=0, each stateSelect=StateSelect.prefer) "Flow through each cell";
  Volume V_oil(displayUnit="l") "Oil in it, as volume at ambient pressure";
  Volume V_free[n + 1](each displayUnit="cm3") "What the oil about each pressure holds, as volume at ambient pressure";
protected
  parameter Area A = pi*d^2/4 "Cross-section";
  parameter Volume V[n + 1] = {if i == 1 or i == n + 1 then A*l/(2*n) else A*l/n for i in 1:n + 1} "Volume about each pressure";
  Pressure friction[n] "Friction along each cell";
  VolumeFlowRate gained[n + 1] "Flow that stays about each pressure";
  Power kinetic "Loss of friction";
equation
  a.p = p[1];
  b.p = p[n + 1];
  gained[1] = a.q - q[1];
  gained[n + 1] = q[n] + b.q;
  for i in 2:n loop
    gained[i] = q[i - 1] - q[i];
  end for;
  for i in 1:n + 1 loop
    V_free[i] = V[i]*(1 + p[i]/K_wall)/relative_volume(p[i], oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
    V[i]*((1 + p[i]/K_wall)*capacity(p[i], oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)
      + 1/(K_wall*relative_volume(p[i], oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)))*der(p[i]) = gained[i];
  end for;
  for i in 1:n loop
    friction[i] = line_friction(q[i]/A, l/n, d, k, oil.rho, oil.nu)
      + xi*sqrt(oil.K*oil.rho)/A*(2*q[i] - q[max(i - 1, 1)] - q[min(i + 1, n)]);
    oil.rho*l/(n*A)*der(q[i]) = p[i] - p[i + 1] - friction[i];
  end for;
  V_oil = sum(V_free);
  kinetic = sum(friction[i]*q[i] for i in 1:n);
  loss = kinetic;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={70,76,138}, thickness=1),
      Line(points={{-60,24},{60,24}}, color={40,44,60}),
      Line(points={{-60,-24},{60,-24}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%l")}),
    Documentation(info="<html><p>Each cell: <i>ρ l/A dq/dt = Δp - Δp_friction</i> and <i>d(V (1 + p/K_wall)/v(p))/dt = Σ q</i>; laminar after Hagen and Poiseuille, turbulent after Haaland, without a kink between. It holds half a cell of oil at each end. One cell shows the first resonance, ten the first few.</p></html>"),
    __Movrel(synonyms={"pipe", "hose", "tube", "water hammer", "wave", "conduit"}, source="Chaudhry, Applied Hydraulic Transients; Haaland, J. Fluids Engineering 105 (1983) 89"));
end Line;
