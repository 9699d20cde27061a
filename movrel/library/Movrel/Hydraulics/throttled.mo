within Movrel.Hydraulics;
function throttled "Turbulent flow through an edge that becomes laminar at small pressure drops"
  import Movrel.Units.*;
  input Pressure dp "Pressure drop";
  input VolumeFlowRate q_n "Flow at the pressure drop dp_n";
  input Pressure dp_n "Pressure drop at which q_n flows";
  input Pressure dp_laminar "Pressure drop below which the flow is mostly laminar";
  output VolumeFlowRate q "Flow";
algorithm
  q := q_n*dp/sqrt(dp_n*sqrt(dp^2 + dp_laminar^2));
  annotation (
    Documentation(info="<html><p><i>q = q_n √(dp/dp_n)</i> both ways, smooth through zero.</p></html>"),
    __Movrel(source="Borutzky, Barnard and Thoma, Simulation Modelling Practice and Theory 10 (2002) 141"));
end throttled;
