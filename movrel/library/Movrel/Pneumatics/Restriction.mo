within Movrel.Pneumatics;
model Restriction "Restriction by its sonic conductance, both ways"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
equation
  m = sonic_flow(a.p, b.p, T, C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{-40,40},{-14,26},{0,8},{14,26},{40,40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-40},{-14,-26},{0,-8},{14,-26},{40,-40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Text(extent={{-150,120},{150,80}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%C")}),
    Documentation(info="<html><p><i>m = C ρ_0 p_1 √(T_0/T_1) √(1 - ((p_2/p_1 - b)/(1 - b))²)</i>, choked below the critical ratio b, laminar about zero, both ways.</p></html>"),
    __Movrel(synonyms={"throttle", "nozzle", "orifice", "tube", "fitting", "ISO 6358"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Restriction;
