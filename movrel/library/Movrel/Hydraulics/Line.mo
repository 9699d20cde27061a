within Movrel.Hydraulics;
model Line "Line with inertia, friction and compliance, in cells"
  import Movrel.Units.*;
  extends OilHeating;
  parameter Length l(min=1e-9) = 5 "Length";
  parameter Length d(min=1e-9, displayUnit="mm") = 0.016 "Inner diameter";
  parameter Integer n(min=1) = 1 "Number of cells" annotation (Evaluate=true);
  parameter Length k(min=0, displayUnit="mm") = 0.01e-3 "Roughness of the wall";
  parameter Pressure K_wall(displayUnit="bar", min=1) = 1e11 "Pressure over relative growth of the volume; a hose has much less than a tube";
  parameter Pressure p_start(displayUnit="bar") = 0 "Pressure at the start";
  OilPort a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  OilPort b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure p[n](each displayUnit="bar", each start=p_start, each stateSelect=StateSelect.prefer) "Pressure in each cell";
  VolumeFlowRate q[n + 1](each displayUnit="l/min", each start=0, each stateSelect=StateSelect.prefer) "Flow into each cell and out of the last";
protected
  parameter Area A = pi*d^2/4 "Cross-section";
  parameter Length part[n + 1] = {if i == 1 or i == n + 1 then l/(2*n) else l/n for i in 1:n + 1} "Length of the oil that each flow moves";
  Pressure up[n + 1] "Pressure before each flow";
  Pressure down[n + 1] "Pressure behind each flow";
  Pressure friction[n + 1] "Friction along each flow";
  Volume V_free[n] "What each cell holds, as volume at ambient pressure";
  Power kinetic "Loss of friction";
equation
  up[1] = a.p;
  down[n + 1] = b.p;
  a.q = q[1];
  b.q = -q[n + 1];
  for i in 1:n loop
    down[i] = p[i];
    up[i + 1] = p[i];
    V_free[i] = A*l/n*(1 + p[i]/K_wall)/relative_volume(p[i], oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
    A*l/n*((1 + p[i]/K_wall)*capacity(p[i], oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)
      + 1/(K_wall*relative_volume(p[i], oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)))*der(p[i]) = q[i] - q[i + 1];
  end for;
  for i in 1:n + 1 loop
    friction[i] = line_friction(q[i]/A, part[i], d, k, oil.rho, oil.nu);
    oil.rho*part[i]/A*der(q[i]) = up[i] - down[i] - friction[i];
  end for;
  kinetic = sum(friction[i]*q[i] for i in 1:n + 1);
  loss = kinetic;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={70,76,138}, thickness=1),
      Line(points={{-60,24},{60,24}}, color={40,44,60}),
      Line(points={{-60,-24},{60,-24}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%l")}),
    Documentation(info="<html><p>Each cell: <i>ρ l/A dq/dt = Δp - Δp_friction</i> and <i>d(V (1 + p/K_wall)/v(p))/dt = Σ q</i>; laminar after Hagen and Poiseuille, turbulent after Haaland, without a kink between. One cell shows the first resonance, ten the first few.</p></html>"),
    __Movrel(synonyms={"pipe", "hose", "tube", "water hammer", "wave", "conduit"}, source="Chaudhry, Applied Hydraulic Transients; Haaland, J. Fluids Engineering 105 (1983) 89"));
end Line;
