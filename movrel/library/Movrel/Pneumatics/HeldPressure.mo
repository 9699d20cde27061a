within Movrel.Pneumatics;
model HeldPressure "Supply of gas at a pressure that is given"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Pressure p_0(displayUnit="bar") = 7e5 "Absolute pressure";
  parameter Temperature T = gas.T_ambient "Temperature of what it delivers";
  GasPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.p = p_0;
  port.h = gas.c_p*T;
  annotation (
    Icon(graphics={
      Polygon(points={{-50,40},{-50,-40},{30,0},{-50,40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{30,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,110},{150,70}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%p_0")}),
    Documentation(info="<html><p><i>p</i> is given; any flow.</p></html>"),
    __Movrel(synonyms={"pressure source", "supply", "compressor", "boundary"}, source="Definition; symbol ISO 1219-1"));
end HeldPressure;
