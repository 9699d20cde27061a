within VarrowQuay;
block LiftController "Position controller of the lift"
  parameter Real k = 12 "Opening of the valve for 1 m of error";
  Movrel.Signals.SignalIn w(unit="m") "Set point of the operator"
    annotation (Placement(transformation(extent={{-140,30},{-120,50}}), iconTransformation(extent={{-120,40},{-100,60}})));
  Movrel.Signals.SignalIn s(unit="m") "Position of the leaf"
    annotation (Placement(transformation(extent={{-140,-50},{-120,-30}}), iconTransformation(extent={{-120,-60},{-100,-40}})));
  Movrel.Signals.SignalOut u "Opening of the valve"
    annotation (Placement(transformation(extent={{120,-10},{140,10}}), iconTransformation(extent={{100,-10},{120,10}})));
  Movrel.Signals.Sum error(k_2=-1)
    annotation (Placement(transformation(extent={{-80,-20},{-40,20}})));
  Movrel.Signals.Gain gain(k=k)
    annotation (Placement(transformation(extent={{-20,-20},{20,20}})));
  Movrel.Signals.Limiter limits(y_min=-1, y_max=1)
    annotation (Placement(transformation(extent={{40,-20},{80,20}})));
equation
  connect(w, error.u_1);
  connect(s, error.u_2);
  connect(error.y, gain.u);
  connect(gain.y, limits.u);
  connect(limits.y, u);
  annotation (
    experiment(StopTime=10),
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,40},{90,-40}}, textString="k(w−s)"),
      Text(extent={{-150,140},{150,104}}, textString="%name")}),
    Diagram(graphics={
      Text(extent={{-120,80},{120,68}}, textString="As proportional control has it", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>u = k (w - s)</i>, between -1 and 1.</p></html>"));
end LiftController;
