within Movrel.Signals;
block ZerosPoles "Transfer function by zeros, poles and gain"
  parameter Real k = 1 "Gain";
  parameter Real z_re[:] = fill(0, 0) "Real parts of the zeros";
  parameter Real z_im[size(z_re, 1)] = fill(0, size(z_re, 1)) "Imaginary parts of the zeros; of a pair both";
  parameter Real p_re[:] = {-1} "Real parts of the poles";
  parameter Real p_im[size(p_re, 1)] = fill(0, size(p_re, 1)) "Imaginary parts of the poles; of a pair both";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  TransferFunction inner_(b=k*Movrel.Signals.polynomial(z_re, z_im), a=Movrel.Signals.polynomial(p_re, p_im));
equation
  inner_.u = u;
  y = inner_.y;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-80,90},{80,14}}, textString="Π(s - z)"),
      Line(points={{-80,0},{80,0}}, color={40,44,60}),
      Text(extent={{-80,-14},{80,-90}}, textString="Π(s - p)"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="k %k")}),
    Documentation(info="<html><p><i>y = k Π(s - z)/Π(s - p) u</i></p></html>"),
    __Movrel(synonyms={"roots", "poles", "zeros", "gain"}, source="Definition"));
end ZerosPoles;
