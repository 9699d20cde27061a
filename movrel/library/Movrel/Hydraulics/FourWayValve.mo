within Movrel.Hydraulics;
partial model FourWayValve "Edges of a valve with four ports"
  import Movrel.Units.*;
  extends OilHeating;
  parameter VolumeFlowRate q_n(displayUnit="l/min", min=1e-12) = 40/60000 "Flow through one edge at dp_n, fully open";
  parameter Pressure dp_n(displayUnit="bar", min=1) = 5e5 "Pressure drop of one edge at which q_n flows";
  parameter Ratio leak(min=0, max=1) = 1e-5 "Flow of a closed edge, as a part of q_n";
  OilPort P "Pressure, from the pump" annotation (Placement(transformation(extent={{-50,-110},{-30,-90}})));
  OilPort T "Return to the tank" annotation (Placement(transformation(extent={{30,-110},{50,-90}})));
  OilPort A "Consumer A" annotation (Placement(transformation(extent={{-50,90},{-30,110}})));
  OilPort B "Consumer B" annotation (Placement(transformation(extent={{30,90},{50,110}})));
  Ratio x "Position of the spool: 1 joins P with A and B with T, -1 P with B and A with T";
  Ratio y_PA "How far P is open to A";
  VolumeFlowRate q_PA(displayUnit="l/min") "Flow from P to A";
  Ratio y_PB "How far P is open to B";
  VolumeFlowRate q_PB(displayUnit="l/min") "Flow from P to B";
  Ratio y_AT "How far A is open to T";
  VolumeFlowRate q_AT(displayUnit="l/min") "Flow from A to T";
  Ratio y_BT "How far B is open to T";
  VolumeFlowRate q_BT(displayUnit="l/min") "Flow from B to T";
  Ratio y_PT "How far P is open to T";
  VolumeFlowRate q_PT(displayUnit="l/min") "Flow from P to T";
equation
  q_PA = throttled(P.p - A.p, max(leak, y_PA)*q_n, dp_n, dp_n/100);
  q_PB = throttled(P.p - B.p, max(leak, y_PB)*q_n, dp_n, dp_n/100);
  q_AT = throttled(A.p - T.p, max(leak, y_AT)*q_n, dp_n, dp_n/100);
  q_BT = throttled(B.p - T.p, max(leak, y_BT)*q_n, dp_n, dp_n/100);
  q_PT = throttled(P.p - T.p, max(leak, y_PT)*q_n, dp_n, dp_n/100);
  P.q = q_PA + q_PB + q_PT;
  T.q = -q_AT - q_BT - q_PT;
  A.q = -q_PA + q_AT;
  B.q = -q_PB + q_BT;
  loss = P.q*flow_energy(P.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) + T.q*flow_energy(T.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) + A.q*flow_energy(A.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) + B.q*flow_energy(B.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  annotation (
    Documentation(info="<html><p>Each edge: <i>q = y q_n √(Δp/Δp_n)</i>.</p></html>"),
    __Movrel(source="Merritt, Hydraulic Control Systems, 1967, section 5-2"));
end FourWayValve;
