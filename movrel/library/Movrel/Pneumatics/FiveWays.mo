within Movrel.Pneumatics;
partial model FiveWays "Ways of a valve with five ports"
  import Movrel.Units.*;
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 2e-8 "Sonic conductance, fully open";
  parameter Ratio b_c(min=0, max=0.99) = 0.3 "Critical pressure ratio";
  parameter Ratio leak(min=0, max=1) = 1e-6 "Conductance of a closed way, as a part of C";
  GasPort P "Supply" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  GasPort R "Exhaust of A" annotation (Placement(transformation(extent={{-60,-110},{-40,-90}})));
  GasPort S "Exhaust of B" annotation (Placement(transformation(extent={{40,-110},{60,-90}})));
  GasPort A "Consumer A" annotation (Placement(transformation(extent={{-50,90},{-30,110}})));
  GasPort B "Consumer B" annotation (Placement(transformation(extent={{30,90},{50,110}})));
  outer Gas gas "Gas of the circuit";
  Ratio y_PA "How far P is open to A";
  MassFlowRate m_PA(displayUnit="g/s") "Flow from P to A";
  Ratio y_PB "How far P is open to B";
  MassFlowRate m_PB(displayUnit="g/s") "Flow from P to B";
  Ratio y_AR "How far A is open to R";
  MassFlowRate m_AR(displayUnit="g/s") "Flow from A to R";
  Ratio y_BS "How far B is open to S";
  MassFlowRate m_BS(displayUnit="g/s") "Flow from B to S";
  Ratio x "Position of the spool: 1 joins P with A and B with S, -1 P with B and A with R";
protected
  parameter MassFlowRate m_tiny = 1e-6*C*1e5*gas.rho_0 "Flow below which streams mix evenly";
equation
  m_PA = sonic_flow(P.p, A.p, upstream(P.p, A.p, inStream(P.h)/gas.c_p, inStream(A.h)/gas.c_p), max(leak, y_PA)*C, b_c, gas.rho_0);
  m_PB = sonic_flow(P.p, B.p, upstream(P.p, B.p, inStream(P.h)/gas.c_p, inStream(B.h)/gas.c_p), max(leak, y_PB)*C, b_c, gas.rho_0);
  m_AR = sonic_flow(A.p, R.p, upstream(A.p, R.p, inStream(A.h)/gas.c_p, inStream(R.h)/gas.c_p), max(leak, y_AR)*C, b_c, gas.rho_0);
  m_BS = sonic_flow(B.p, S.p, upstream(B.p, S.p, inStream(B.h)/gas.c_p, inStream(S.h)/gas.c_p), max(leak, y_BS)*C, b_c, gas.rho_0);
  P.m = m_PA + m_PB;
  P.h = ((max(-m_PA, 0) + m_tiny)*inStream(A.h) + (max(-m_PB, 0) + m_tiny)*inStream(B.h))/(max(-m_PA, 0) + max(-m_PB, 0) + 2*m_tiny);
  R.m = -m_AR;
  R.h = inStream(A.h);
  S.m = -m_BS;
  S.h = inStream(B.h);
  A.m = -m_PA + m_AR;
  A.h = ((max(m_PA, 0) + m_tiny)*inStream(P.h) + (max(-m_AR, 0) + m_tiny)*inStream(R.h))/(max(m_PA, 0) + max(-m_AR, 0) + 2*m_tiny);
  B.m = -m_PB + m_BS;
  B.h = ((max(m_PB, 0) + m_tiny)*inStream(P.h) + (max(-m_BS, 0) + m_tiny)*inStream(S.h))/(max(m_PB, 0) + max(-m_BS, 0) + 2*m_tiny);
  annotation (
    Documentation(info="<html><p>Each way is a restriction by its sonic conductance.</p></html>"),
    __Movrel(source="ISO 6358-1:2013, equations of flow"));
end FiveWays;
