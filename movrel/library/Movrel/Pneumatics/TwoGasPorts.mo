within Movrel.Pneumatics;
partial model TwoGasPorts "Part through which gas flows from a to b without giving off heat"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  GasPort a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  GasPort b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure dp(displayUnit="bar") "Pressure drop from a to b";
  MassFlowRate m(displayUnit="g/s") "Flow from a to b";
  Temperature T "Temperature of what flows";
equation
  dp = a.p - b.p;
  a.m = m;
  b.m = -m;
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  T = upstream(a.p, b.p, inStream(a.h)/gas.c_p, inStream(b.h)/gas.c_p);
  annotation (
    Documentation(info="<html><p>What flows in flows out, with its enthalpy.</p></html>"));
end TwoGasPorts;
