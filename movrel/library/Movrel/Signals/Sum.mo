within Movrel.Signals;
block Sum "Adds or subtracts two signals"
  parameter Real k_1 = 1 "Sign or weight of the first input";
  parameter Real k_2 = 1 "Sign or weight of the second input";
  SignalIn u_1 "First input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalIn u_2 "Second input" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
  SignalOut y "The weighted sum" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  y = k_1*u_1 + k_2*u_2;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-96,30},{-30,-30}}, textString="%k_1"),
      Text(extent={{-33,-40},{33,-96}}, textString="%k_2"),
      Text(extent={{-30,45},{60,-25}}, textString="Σ"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = k_1 u_1 + k_2 u_2</i>. With <i>k_2 = -1</i> it compares: the second input is
    subtracted, as in a feedback loop.</p></html>"),
    __Movrel(synonyms={"add", "subtract", "difference", "compare", "feedback", "error", "summer", "adder", "summing point"}, source="Definition"));
end Sum;
