within Movrel.Signals;
block Derivative "Rate of change, filtered"
  import Movrel.Units.*;
  parameter Real k = 1 "Factor";
  parameter Movrel.Units.Time T(min=1e-12) = 0.01 "Time constant of the filter";
  parameter Real u_start = 0 "Value that the filter begins with";
  SignalIn u "Input" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
protected
  Real x(start=u_start, fixed=true) "Filtered input";
equation
  T*der(x) = u - x;
  y = k*(u - x)/T;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,46},{92,-46}}, textString="du/dt"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="T %T")}),
    Documentation(info="<html><p><i>y = k s/(T s + 1) u</i></p></html>"),
    __Movrel(synonyms={"rate", "differentiate", "D element", "DT1"}, source="Föllinger, Regelungstechnik, chapter on elementary transfer elements"));
end Derivative;
