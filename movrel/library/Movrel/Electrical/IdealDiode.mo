within Movrel.Electrical;
model IdealDiode "Diode that conducts or blocks"
  import Movrel.Units.*;
  extends TwoTerminals;
  extends Movrel.Thermal.Dissipation;
  parameter Resistance R_on(min=0) = 1e-4 "Resistance while it conducts";
  parameter Conductance G_off(min=0) = 1e-6 "Conductance while it blocks";
  parameter Voltage V_f(min=0) = 0 "Forward voltage from which it conducts";
  Boolean off(start=true) "Whether it blocks";
  Real s "Along the characteristic: voltage while blocking, current while conducting";
equation
  off = s < 0;
  v = s*(if off then 1 else R_on) + V_f;
  i = s*(if off then G_off else 1) + G_off*V_f;
  loss = v*i;
  annotation (
    Icon(graphics={
      Polygon(points={{-30,35},{-30,-35},{30,0},{-30,35}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{30,35},{30,-35}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Two straight lines that meet at <i>V_f</i>, written with the distance <i>s</i> along them</p></html>"),
    __Movrel(synonyms={"rectifier", "valve", "free-wheeling"}, source="Clauß and others, Simulation of ideal switching circuits, 1995; symbol IEC 60617"));
end IdealDiode;
