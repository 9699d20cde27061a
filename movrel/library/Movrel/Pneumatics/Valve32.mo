within Movrel.Pneumatics;
model Valve32 "3/2 directional valve, switched against a spring"
  import Movrel.Units.*;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Time t_switch(min=1e-6) = 0.02 "Time in which it switches";
  parameter Ratio leak(min=0, max=1) = 1e-6 "Conductance of a closed way, as a part of C";
  GasPort P "Supply" annotation (Placement(transformation(extent={{-50,-110},{-30,-90}})));
  GasPort R "Exhaust" annotation (Placement(transformation(extent={{30,-110},{50,-90}})));
  GasPort A "Consumer" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Signals.LogicIn on "Switch to P with A; else A is joined with R" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  outer Gas gas "Gas of the circuit";
  Ratio y_PA "How far P is open to A";
  MassFlowRate m_PA(displayUnit="g/s") "Flow from P to A";
  Ratio y_AR "How far A is open to R";
  MassFlowRate m_AR(displayUnit="g/s") "Flow from A to R";
  Ratio x(start=-1, fixed=true) "Position of the spool: 1 joins P with A, -1 A with R";
protected
  parameter MassFlowRate m_tiny = 1e-6*C*1e5*gas.rho_0 "Flow below which streams mix evenly";
equation
  der(x) = ((if on then 1 else -1) - x)*3/t_switch;
  y_PA = max(0, x);
  y_AR = max(0, -x);
  m_PA = sonic_flow(P.p, A.p, upstream(P.p, A.p, inStream(P.h)/gas.c_p, inStream(A.h)/gas.c_p), max(leak, y_PA)*C, b_c, gas.rho_0);
  m_AR = sonic_flow(A.p, R.p, upstream(A.p, R.p, inStream(A.h)/gas.c_p, inStream(R.h)/gas.c_p), max(leak, y_AR)*C, b_c, gas.rho_0);
  P.m = m_PA;
  P.h = inStream(A.h);
  R.m = -m_AR;
  R.h = inStream(A.h);
  A.m = -m_PA + m_AR;
  A.h = ((max(m_PA, 0) + m_tiny)*inStream(P.h) + (max(-m_AR, 0) + m_tiny)*inStream(R.h))/(max(m_PA, 0) + max(-m_AR, 0) + 2*m_tiny);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,30},{0,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{0,30},{60,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{68,10},{76,-10},{84,10},{90,0}}, color={40,44,60}),
      Line(points={{-40,-30},{-30,30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-16,-30},{-16,-18}}, color={40,44,60}),
      Line(points={{-22,-18},{-10,-18}}, color={40,44,60}),
      Line(points={{30,30},{44,-30}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{16,-30},{16,-18}}, color={40,44,60}),
      Line(points={{10,-18},{22,-18}}, color={40,44,60}),
      Line(points={{30,30},{30,70},{0,70},{0,100}}, color={56,104,136}, thickness=0.5),
      Line(points={{16,-30},{16,-70},{-40,-70},{-40,-100}}, color={56,104,136}, thickness=0.5),
      Line(points={{44,-30},{44,-70},{40,-70},{40,-100}}, color={56,104,136}, thickness=0.5),
      Text(extent={{64,86},{280,50}}, textString="%name", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>The spool moves with a time constant of a third of <i>t_switch</i>; each way is a restriction.</p></html>"),
    __Movrel(synonyms={"solenoid valve", "three-two", "directional control"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Valve32;
