within Movrel.Pneumatics;
model DrivenRestriction "Restriction whose opening a signal sets"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Ratio leak(min=0, max=1) = 1e-6 "Conductance when closed, as a part of C";
  Movrel.Signals.SignalIn opening "How far it is open, 0 to 1" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  m = sonic_flow(a.p, b.p, T, max(leak, min(opening, 1))*C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{-40,40},{-14,26},{0,8},{14,26},{40,40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-40},{-14,-26},{0,-8},{14,-26},{40,-40}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{-40,-50},{40,50}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{0,100},{0,46}}, color={40,44,60}),
      Text(extent={{-190,120},{-10,84}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%C")}),
    Documentation(info="<html><p>As a restriction, its conductance in proportion to the signal within 0 and 1.</p></html>"),
    __Movrel(synonyms={"throttle valve", "metering valve", "variable restriction"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end DrivenRestriction;
