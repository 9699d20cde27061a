within Movrel.Vehicles;
block Driver "Driver who keeps a speed with two pedals"
  import Movrel.Units.*;
  parameter Real K(unit="s/m", min=0) = 0.4 "Pedal for each m/s that is missing";
  parameter Time T_i(min=1e-6) = 4 "Integral time";
  Movrel.Signals.SignalIn v_set(unit="m/s") "Speed that is wanted, a little ahead" annotation (Placement(transformation(extent={{-120,30},{-100,50}})));
  Movrel.Signals.SignalIn v(unit="m/s") "Speed" annotation (Placement(transformation(extent={{-120,-50},{-100,-30}})));
  Movrel.Signals.SignalOut throttle "Throttle, 0 to 1" annotation (Placement(transformation(extent={{100,30},{120,50}})));
  Movrel.Signals.SignalOut brake "Brake, 0 to 1" annotation (Placement(transformation(extent={{100,-50},{120,-30}})));
protected
  Real raw "Both pedals as one, before their limits";
  Real memory(start=0, fixed=true) "Integral part";
equation
  raw = K*(v_set - v) + memory;
  der(memory) = (K*(v_set - v) + min(max(raw, -1), 1) - raw)/T_i;
  throttle = min(max(raw, 0), 1);
  brake = min(max(-raw, 0), 1);
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-16,50},{16,18}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,18},{0,-20},{40,-20},{60,-60}}, color={40,44,60}),
      Line(points={{0,10},{44,24}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>A PI controller with one output for both pedals; at a limit its memory follows back (anti-windup). Looking ahead comes from the drive cycle.</p></html>"),
    __Movrel(synonyms={"cruise control", "speed controller", "pedals"}, source="Åström and Hägglund, PID Controllers"));
end Driver;
