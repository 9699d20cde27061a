within Movrel.Signals;
block Gain "Multiplies by a constant"
  parameter Real k = 1 "Factor";
  SignalIn u "What is multiplied" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "k times the input" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = k*u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="%k"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = k u</i></p></html>"),
    __Movrel(synonyms={"factor", "amplification", "proportional", "amplifier"}, source="Definition"));
end Gain;
