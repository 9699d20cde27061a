within Movrel.Hydraulics;
function cushion_flow "Flow into a chamber through its port, which a cushion narrows when oil leaves near the end"
  import Movrel.Units.*;
  input Pressure dp "Pressure at the port above that in the chamber";
  input Ratio x "Distance from the end over the length of the cushion";
  input Length d_port "Diameter of the port";
  input Length d_cushion "Diameter of what is left at the end";
  input Density rho "Density";
  output VolumeFlowRate q "Flow into the chamber";
protected
  Area open "Area that is open to oil that leaves";
algorithm
  open := pi/4*(d_cushion^2 + (d_port^2 - d_cushion^2)*min(max(5*x - 4, 0), 1));
  q := throttled(dp, 0.62*(if noEvent(dp > 0) then pi/4*d_port^2 else open)*sqrt(2/rho), 1, 1e4);
  annotation (
    Documentation(info="<html><p>Inwards a check valve opens the whole port. Outwards the area falls from that of the port to that of the throttle over the first fifth of the cushion. Linear below 0.1 bar.</p></html>"),
    __Movrel(source="Merritt, Hydraulic Control Systems, 1967, section 3-2"));
end cushion_flow;
