within Movrel.Electrical;
model Diode "Diode with an exponential characteristic"
  import Movrel.Units.*;
  extends TwoTerminals;
  extends Movrel.Thermal.Dissipation;
  parameter Current I_s(min=1e-20) = 1e-9 "Saturation current";
  parameter Voltage V_T(min=1e-4) = 0.026 "Emission coefficient times thermal voltage";
  parameter Real x_max = 40 "Exponent from which the curve goes on as a straight line";
  parameter Resistance R_p(min=1e-6) = 1e9 "Leakage resistance";
equation
  i = smooth(1, if v > x_max*V_T then I_s*(exp(x_max)*(1 + v/V_T - x_max) - 1) else I_s*(exp(v/V_T) - 1)) + v/R_p;
  loss = v*i;
  annotation (
    Icon(graphics={
      Polygon(points={{-30,35},{-30,-35},{30,0},{-30,35}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{30,35},{30,-35}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{100,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Shockley: <i>i = I_s (exp(v/V_T) - 1) + v/R_p</i></p></html>"),
    __Movrel(synonyms={"rectifier", "Shockley", "pn junction"}, source="Sze, Physics of Semiconductor Devices"));
end Diode;
