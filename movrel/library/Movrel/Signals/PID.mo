within Movrel.Signals;
block PID "PID controller in ideal or parallel form, with limits"
  import Movrel.Units.*;
  parameter Form form = Form.ideal "How the three parts are given";
  parameter Real K = 1 "Gain" annotation (Dialog(enable=form == Form.ideal));
  parameter Movrel.Units.Time T_i(min=1e-12) = 1 "Reset time" annotation (Dialog(enable=form == Form.ideal));
  parameter Movrel.Units.Time T_d(min=0) = 0.1 "Rate time" annotation (Dialog(enable=form == Form.ideal));
  parameter Real K_p = 1 "Proportional gain" annotation (Dialog(enable=form == Form.parallel));
  parameter Real K_i = 1 "Integral gain, per second" annotation (Dialog(enable=form == Form.parallel));
  parameter Real K_d = 0.1 "Derivative gain, in seconds" annotation (Dialog(enable=form == Form.parallel));
  parameter Real N(min=1) = 10 "Rate time over the time constant of its filter";
  parameter Real b = 1 "Part of the set point that the proportional part sees";
  parameter Real c = 0 "Part of the set point that the derivative part sees";
  parameter Real y_max = 1e60 "Upper limit of the output" annotation (Dialog(group="Limits"));
  parameter Real y_min = -1e60 "Lower limit of the output" annotation (Dialog(group="Limits"));
  parameter Movrel.Units.Time T_t(min=1e-9) = max(sqrt(T_i*max(T_d, 0.01*T_i)), 1e-6) "Time constant with which the integral follows a limited output" annotation (Dialog(group="Limits"));
  parameter Real y_start = 0 "Output at the start, met without a jump" annotation (Dialog(group="Start"));
  SignalIn w "Set point" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn x "Measured value" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  Real e "Deviation";
  Real I "Integral part";
  Real free "Output before it is limited";
protected
  parameter Real k_p = if form == Form.ideal then K else K_p;
  parameter Real k_i = if form == Form.ideal then K/T_i else K_i;
  parameter Real k_d = if form == Form.ideal then K*T_d else K_d;
  parameter Movrel.Units.Time T_f = max(abs(k_d/(if abs(k_p) > 0 then k_p else 1))/N, 1e-9) "Time constant of the filter";
  Real f "Filtered signal of the derivative part";
initial equation
  f = c*w - x;
  I = y_start - k_p*(b*w - x);
equation
  assert(y_max > y_min, "y_max must be above y_min");
  e = w - x;
  T_f*der(f) = c*w - x - f;
  der(I) = k_i*e + (y - free)/T_t;
  free = k_p*(b*w - x) + I + k_d*(c*w - x - f)/T_f;
  y = if free > y_max then y_max elseif free < y_min then y_min else free;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,50},{92,-50}}, textString="PID"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = K (e + 1/T_i ∫ e dt + T_d de/dt), or K_p e + K_i ∫ e dt + K_d de/dt; the derivative is filtered, set point weights b and c, anti-windup and start as in PI</i></p></html>"),
    __Movrel(synonyms={"controller", "feedback", "rate", "derivative"}, source="Åström and Hägglund, PID Controllers, 2nd ed. 1995, chapter 3"));
end PID;
