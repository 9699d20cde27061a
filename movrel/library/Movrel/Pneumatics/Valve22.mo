within Movrel.Pneumatics;
model Valve22 "2/2 directional valve, switched against a spring"
  import Movrel.Units.*;
  extends TwoGasPorts;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Time t_switch(min=1e-6) = 0.02 "Time in which it switches";
  parameter Ratio leak(min=0, max=1) = 1e-6 "Conductance of a closed way, as a part of C";
  parameter Boolean normally_open = false "Open while it is not switched";
  Movrel.Signals.LogicIn on "Switch it" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Ratio y(start=if normally_open then 1 else 0, fixed=true) "How far it is open";
equation
  der(y) = ((if on <> normally_open then 1 else 0) - y)*3/t_switch;
  m = sonic_flow(a.p, b.p, T, max(leak, y)*C, b_c, gas.rho_0);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-44,60},{44,0}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-44,0},{44,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-44,30},{44,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-44,-30},{-24,-30}}, color={40,44,60}),
      Line(points={{-24,-20},{-24,-40}}, color={40,44,60}),
      Line(points={{44,-30},{24,-30}}, color={40,44,60}),
      Line(points={{24,-20},{24,-40}}, color={40,44,60}),
      Line(points={{-100,0},{-80,0},{-80,-30},{-44,-30}}, color={56,104,136}, thickness=0.5),
      Line(points={{100,0},{80,0},{80,-30},{44,-30}}, color={56,104,136}, thickness=0.5),
      Line(points={{0,100},{0,60}}, color={40,44,60}),
      Line(points={{0,-60},{-10,-68},{10,-76},{-10,-84},{0,-92}}, color={40,44,60}),
      Text(extent={{20,104},{240,66}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>It opens and closes with a time constant of a third of <i>t_switch</i>; flow by its sonic conductance.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "shut-off valve", "two-two"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Valve22;
