within Movrel.Electrical;
model Zener "Diode that conducts backwards from its breakdown voltage on"
  import Movrel.Units.*;
  extends TwoTerminals;
  extends Movrel.Thermal.Dissipation;
  parameter Current I_s(min=1e-20) = 1e-9 "Saturation current";
  parameter Voltage V_T(min=1e-4) = 0.026 "Emission coefficient times thermal voltage";
  parameter Voltage V_z(min=0) = 5.1 "Breakdown voltage";
  parameter Resistance R_z(min=1e-6) = 5 "Slope resistance beyond it";
  parameter Real x_max = 40 "Exponent from which the curve goes on as a straight line";
equation
  i = smooth(1, if v > x_max*V_T then I_s*(exp(x_max)*(1 + v/V_T - x_max) - 1) else I_s*(exp(v/V_T) - 1))
    + (if v < -V_z then (v + V_z)/R_z else 0);
  loss = v*i;
  annotation (
    Icon(graphics={
      Polygon(points={{-30,35},{-30,-35},{30,0},{-30,35}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{18,35},{30,35},{30,-35},{42,-35}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%V_z")}),
    Documentation(info="<html><p>Shockley forwards; beyond <i>-V_z</i> a straight line of slope <i>1/R_z</i></p></html>"),
    __Movrel(synonyms={"voltage reference", "breakdown", "clamp", "suppressor"}, source="Sze, Physics of Semiconductor Devices"));
end Zener;
