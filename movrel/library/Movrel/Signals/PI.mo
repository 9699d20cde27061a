within Movrel.Signals;
block PI "PI controller with limits"
  import Movrel.Units.*;
  parameter Real K = 1 "Gain";
  parameter Movrel.Units.Time T_i(min=1e-12) = 1 "Reset time";
  parameter Real y_max = 1e60 "Upper limit of the output" annotation (Dialog(group="Limits"));
  parameter Real y_min = -1e60 "Lower limit of the output" annotation (Dialog(group="Limits"));
  parameter Movrel.Units.Time T_t(min=1e-9) = T_i "Time constant with which the integral follows a limited output" annotation (Dialog(group="Limits"));
  parameter Real y_start = 0 "Output at the start, met without a jump" annotation (Dialog(group="Start"));
  SignalIn w "Set point" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  SignalIn x "Measured value" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  SignalOut y "Output" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  Real e "Deviation";
  Real I "Integral part";
  Real free "Output before it is limited";
initial equation
  I = y_start - K*e;
equation
  assert(y_max > y_min, "y_max must be above y_min");
  e = w - x;
  der(I) = K*e/T_i + (y - free)/T_t;
  free = K*e + I;
  y = if free > y_max then y_max elseif free < y_min then y_min else free;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-92,60},{92,-20}}, textString="PI"),
      Text(extent={{-92,-20},{92,-80}}, textString="K %K"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>y = K (e + 1/T_i ∫ e dt), e = w - x; while the output is limited the integral follows it back (anti-windup), and it begins at y_start without a jump</i></p></html>"),
    __Movrel(synonyms={"controller", "feedback", "anti-windup", "reset"}, source="Åström and Hägglund, PID Controllers, 2nd ed. 1995, section 3.5"));
end PI;
