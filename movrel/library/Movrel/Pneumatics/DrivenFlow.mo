within Movrel.Pneumatics;
model DrivenFlow "Mass flow of gas driven by a signal"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Temperature T = gas.T_ambient "Temperature of what it delivers";
  Movrel.Signals.SignalIn m(unit="kg/s") "Flow that it delivers" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  GasPort port "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.m = -m;
  port.h = gas.c_p*T;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-34,0},{34,0}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>An ideal source: it delivers the signal whatever the pressure.</p></html>"),
    __Movrel(synonyms={"flow source", "supply", "compressor"}, source="Definition"));
end DrivenFlow;
