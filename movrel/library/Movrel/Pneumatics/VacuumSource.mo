within Movrel.Pneumatics;
model VacuumSource "Vacuum pump or ejector by its suction flow"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Pressure p_low(min=0, displayUnit="mbar") = 2e4 "Absolute pressure at which it draws no more";
  parameter VolumeFlowRate q_0(min=0, displayUnit="l/min") = 50/60000 "Flow that it draws at ambient pressure, as volume at ambient state";
  GasPort port "Suction" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  assert(p_low < gas.p_ambient, "p_low must be below the pressure of the surroundings");
  port.m = q_0*gas.p_ambient/(gas.R_s*gas.T_ambient)*max(0, (port.p - p_low)/(gas.p_ambient - p_low));
  port.h = gas.c_p*gas.T_ambient;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{26,-20},{26,20},{-10,0},{26,-20}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%p_low")}),
    Documentation(info="<html><p>Its flow falls in proportion to the pressure and ends at <i>p_low</i>; it lets nothing back.</p></html>"),
    __Movrel(synonyms={"vacuum pump", "ejector", "suction"}, source="Roth, Vacuum Technology; symbol ISO 1219-1"));
end VacuumSource;
