within Movrel.Process.Mixtures;
model StirredReactor "Stirred reactor: mass, species and heat balances with reactions"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 1 "Number of species";
  parameter Integer r(min=1) = 1 "Number of reactions";
  parameter Real nu[r, n] = fill(-1, r, n) "Stoichiometric numbers: negative what is used up, positive what is made";
  parameter Boolean own_law = false "The rates follow a law of one's own, given as text" annotation (Evaluate=true, Dialog(group="Rate law"));
  parameter Real order[r, n](each min=0) = fill(1, r, n) "Orders: exponents of the concentrations in the rate law" annotation (Dialog(group="Rate law", enable=not own_law));
  parameter Real k_0[r](each min=0) = fill(1e-3, r) "Rate constants at the reference temperature, in mol/m3 and s" annotation (Dialog(group="Rate law", enable=not own_law));
  parameter MolarEnthalpy E[r] = fill(0, r) "Activation energies" annotation (Dialog(group="Rate law", enable=not own_law));
  parameter Temperature T_ref = 298.15 "Reference temperature" annotation (Dialog(group="Rate law", enable=not own_law));
  input Real law[r](each unit="mol/(m3.s)") = fill(0, r) "Rates as text, one for each reaction, such as {2e-3*reactor.c[1]/(1 + reactor.c[2])}" annotation (Dialog(group="Rate law", enable=own_law));
  parameter MolarEnthalpy H[r] = fill(0, r) "Heats of reaction, negative when heat is set free";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  parameter SpecificHeatCapacity c_p(min=1e-9) = 4180 "Specific heat";
  parameter Volume V_start(min=1e-12) = 1 "Liquid at the start";
  parameter Concentration c_start[n] = fill(0, n) "Concentrations at the start";
  parameter Temperature T_start = 293.15 "Temperature at the start";
  parameter ThermalConductance G(min=0) = 0 "Conductance to the jacket";
  MixturePort inlet(n=n) "Feed" annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
  MixturePort outlet(n=n) "Outlet at the floor" annotation (Placement(transformation(extent={{90,-70},{110,-50}})));
  Movrel.Thermal.ThermalNode jacket "Jacket" annotation (Placement(transformation(extent={{-110,-70},{-90,-50}})));
  Volume V(start=V_start, fixed=true) "Liquid in the reactor";
  AmountOfSubstance N[n](start=V_start*c_start, each fixed=true) "Moles of each species";
  Concentration c[n] "Concentrations";
  Temperature T(start=T_start, fixed=true) "Temperature";
  Real rate[r](each unit="mol/(m3.s)") "Rates of the reactions";
equation
  assert(V > 1e-9, "the reactor ran empty");
  rho*der(V) = inlet.m + outlet.m;
  for j in 1:n loop
    N[j] = V*c[j];
    der(N[j]) = inlet.m*actualStream(inlet.c[j]) + outlet.m*actualStream(outlet.c[j]) + V*sum(nu[i, j]*rate[i] for i in 1:r);
  end for;
  for i in 1:r loop
    rate[i] = if own_law then law[i] else k_0[i]*exp(-E[i]/gas_R*(1/T - 1/T_ref))*product({if order[i, j] > 0 then max(c[j], 0)^order[i, j] else 1 for j in 1:n});
  end for;
  rho*c_p*V*der(T) = inlet.m*(actualStream(inlet.h) - c_p*(T - T_zero)) + outlet.m*(actualStream(outlet.h) - c_p*(T - T_zero))
    - V*H*rate + jacket.Q;
  jacket.Q = G*(jacket.T - T);
  inlet.p = 0;
  outlet.p = 0;
  inlet.h = c_p*(T - T_zero);
  outlet.h = c_p*(T - T_zero);
  inlet.c = c/rho;
  outlet.c = c/rho;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-86,0},{86,-88}}, lineColor={38,106,118}, pattern=LinePattern.None, fillColor={170,205,210}, fillPattern=FillPattern.Solid),
      Line(points={{-90,90},{-90,-90},{90,-90},{90,90}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,110},{0,-50}}, color={40,44,60}),
      Line(points={{-30,-40},{30,-60},{30,-40},{-30,-60},{-30,-40}}, color={40,44,60}),
      Line(points={{-100,60},{-70,60},{-70,40}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>d(V c_j)/dt = Σ m c + V Σ ν_ij r_i</i>, <i>r_i = k_i(T) Π c_j^order</i>, <i>k(T) = k_0 exp(-E/R (1/T - 1/T_ref))</i> or a law of one's own as text, and the heat balance with heat of reaction and jacket</p></html>"),
    __Movrel(synonyms={"CSTR", "vessel", "neutralisation", "kinetics", "jacket", "exothermic"}, source="Levenspiel, Chemical Reaction Engineering, 3rd ed. 1999, chapters 4 and 5"));
end StirredReactor;
