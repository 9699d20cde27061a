within Movrel.Signals;
block StateSpace "Linear system in state space"
  parameter Real A[:, :] = [-1] "System matrix";
  parameter Real B[:, :] = [1] "Input matrix";
  parameter Real C[:, :] = [1] "Output matrix";
  parameter Real D[size(C, 1), size(B, 2)] = zeros(size(C, 1), size(B, 2)) "Direct path";
  parameter Real x_start[size(A, 1)] = zeros(size(A, 1)) "States at the start";
  SignalIn u[size(B, 2)] "Inputs" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  SignalOut y[size(C, 1)] "Outputs" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  Real x[size(A, 1)](start=x_start, each fixed=true) "States";
equation
  assert(size(A, 1) == size(A, 2), "A must have as many columns as rows");
  assert(size(B, 1) == size(A, 1), "B must have a row for each state");
  assert(size(C, 2) == size(A, 1), "C must have a column for each state");
  der(x) = A*x + B*u;
  y = C*x + D*u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,80},{90,10}}, textString="ẋ = Ax + Bu"),
      Text(extent={{-90,-10},{90,-80}}, textString="y = Cx + Du"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>dx/dt = A x + B u, y = C x + D u</i></p></html>"),
    __Movrel(synonyms={"MIMO", "matrix", "linear system"}, source="Kailath, Linear Systems, 1980"));
end StateSpace;
