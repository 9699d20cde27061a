within Movrel.Signals;
block LimitedIntegrator "Integral that stays within limits and can be reset"
  parameter Real k = 1 "Factor";
  parameter Real y_start = 0 "Value at the start, and after a reset";
  parameter Real y_max = 1 "Upper limit";
  parameter Real y_min = -1 "Lower limit";
  SignalIn u "What is integrated" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  LogicIn reset "Sets the integral back when it becomes true" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
  SignalOut y(start=y_start, fixed=true) "The integral" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  Boolean held "Whether it rests at a limit";
equation
  assert(y_max > y_min, "y_max must be above y_min");
  held = (y >= y_max and k*u > 0) or (y <= y_min and k*u < 0);
  der(y) = if held then 0 else k*u;
  when reset then
    reinit(y, y_start);
  end when;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,50},{90,-60}}, textString="∫"),
      Line(points={{20,70},{80,70}}, color={40,44,60}),
      Line(points={{-80,-70},{-20,-70}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{16,-108},{186,-142}}, textString="%y_min to %y_max")}),
    Documentation(info="<html><p><i>dy/dt = k u between the limits; at a limit it waits until u points back</i></p></html>"),
    __Movrel(synonyms={"saturating integrator", "accumulator", "1/s", "reset"}, source="Definition"));
end LimitedIntegrator;
