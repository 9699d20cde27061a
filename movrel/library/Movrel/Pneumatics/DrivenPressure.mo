within Movrel.Pneumatics;
model DrivenPressure "Pressure of gas driven by a signal"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Temperature T = gas.T_ambient "Temperature of what it delivers";
  Movrel.Signals.SignalIn p(unit="Pa") "Absolute pressure" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  GasPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.p = p;
  port.h = gas.c_p*T;
  annotation (
    Icon(graphics={
      Polygon(points={{-50,40},{-50,-40},{30,0},{-50,40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{30,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p><i>p</i> is the signal; any flow.</p></html>"),
    __Movrel(synonyms={"pressure source", "supply", "boundary"}, source="Definition; symbol ISO 1219-1"));
end DrivenPressure;
