within Movrel.Signals;
block SecondOrder "Second-order lag"
  import Movrel.Units.*;
  parameter Real k = 1 "Steady gain";
  parameter Movrel.Units.AngularVelocity w_0(min=1e-12) = 1 "Natural angular frequency";
  parameter Real D(min=0) = 1 "Damping ratio";
  parameter Real y_start = 0 "Value at the start";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y(start=y_start, fixed=true) "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  Real v(start=0, fixed=true) "Rate of change of the output";
equation
  der(y) = v;
  der(v) = w_0^2*(k*u - y) - 2*D*w_0*v;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-70,70},{-70,-70},{70,-70}}, color={40,44,60}),
      Line(points={{-70,-70},{-55,-60},{-35,40},{-20,60},{-5,45},{10,15},{25,22},{40,30},{55,27},{70,28}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="D %D")}),
    Documentation(info="<html><p><i>y'' + 2 D w_0 y' + w_0² y = k w_0² u</i></p></html>"),
    __Movrel(synonyms={"PT2", "oscillator", "damping", "natural frequency"}, source="Föllinger, Regelungstechnik"));
end SecondOrder;
