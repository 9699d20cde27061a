within Movrel.Hydraulics;
model Orifice "Sharp-edged orifice, both ways"
  import Movrel.Units.*;
  extends TwoOilPorts;
  parameter Length d(min=1e-9, displayUnit="mm") = 1e-3 "Diameter";
  parameter Ratio C_d(min=0.01, max=1) = 0.62 "Discharge coefficient of turbulent flow";
  parameter Ratio Re_laminar(min=1) = 260 "Reynolds number at which laminar and turbulent flow change";
protected
  Pressure dp_laminar "Pressure drop there";
equation
  dp_laminar = oil.rho/2*(Re_laminar*oil.nu/(C_d*d))^2;
  q = throttled(dp, C_d*pi*d^2/4*sqrt(2/oil.rho), 1, dp_laminar);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={70,76,138}, thickness=0.5),
      Line(points={{0,50},{0,12}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,-12},{0,-50}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,120},{150,80}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%d")}),
    Documentation(info="<html><p><i>q = C_d A √(2 Δp/ρ)</i>, laminar below a Reynolds number: smooth through zero.</p></html>"),
    __Movrel(synonyms={"restriction", "nozzle", "jet", "damping"}, source="Borutzky, Barnard and Thoma, Simulation Modelling Practice and Theory 10 (2002) 141; symbol ISO 1219-1"));
end Orifice;
