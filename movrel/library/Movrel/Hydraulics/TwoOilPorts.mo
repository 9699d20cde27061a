within Movrel.Hydraulics;
partial model TwoOilPorts "Part through which oil flows from a to b"
  import Movrel.Units.*;
  extends OilHeating;
  OilPort a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  OilPort b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure dp(displayUnit="bar") "Pressure drop from a to b";
  VolumeFlowRate q(displayUnit="l/min") "Flow from a to b";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  loss = q*(flow_energy(a.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient) - flow_energy(b.p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient));
  annotation (
    Documentation(info="<html><p>What flows in flows out; the energy that is lost on the way heats the oil.</p></html>"));
end TwoOilPorts;
