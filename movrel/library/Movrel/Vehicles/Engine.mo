within Movrel.Vehicles;
model Engine "Engine by its map of torque, with an idle governor"
  import Movrel.Units.*;
  parameter Real map[:, :] = [0, 0, 0.5, 1; 50, -15, 40, 90; 105, -22, 95, 180; 210, -30, 110, 220; 315, -40, 105, 230; 420, -52, 90, 210; 525, -66, 60, 170; 630, -80, 10, 90] "Speeds in rad/s down, throttle across, torque in N.m inside; its column at 0 is the drag";
  parameter MomentOfInertia J = 0.2 "Crankshaft and flywheel";
  parameter AngularVelocity w_idle(min=0, displayUnit="rpm") = 84 "Idle speed";
  parameter AngularVelocity w_start(displayUnit="rpm") = w_idle "Speed at the start";
  parameter Real K(unit="s/rad", min=0) = 0.02 "Gain of the idle governor" annotation (Dialog(group="Idle governor"));
  parameter Time T_i(min=1e-6) = 0.5 "Its integral time" annotation (Dialog(group="Idle governor"));
  parameter Time T_torque(min=1e-6) = 0.08 "Time in which the torque follows the throttle";
  parameter Ratio eta_i(min=0.01, max=1) = 0.4 "Indicated efficiency" annotation (Dialog(group="Consumption"));
  parameter Real H_u(unit="J/kg", min=1) = 42.8e6 "Heating value of the fuel" annotation (Dialog(group="Consumption"));
  Movrel.Signals.SignalIn throttle "Throttle, 0 to 1" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Movrel.Rotational.Shaft b "Crankshaft" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Angle phi(start=0, stateSelect=StateSelect.prefer) "Angle of the crankshaft";
  AngularVelocity w(start=w_start, stateSelect=StateSelect.prefer, displayUnit="rpm") "Speed";
  Torque tau "Torque of the cylinders, drag included";
  Ratio opening "Throttle with the governor's part";
  MassFlowRate fuel(displayUnit="g/s") "Consumption";
  Mass fuel_used(start=0, fixed=true) "Fuel used";
protected
  Ratio governor(start=0, fixed=true) "Integral part of the idle governor";
  Ratio raw "What the governor asks for";
  Torque drag "Drag at this speed";
equation
  phi = b.phi;
  w = der(phi);
  raw = K*(w_idle - w) + governor;
  der(governor) = (K*(w_idle - w) + min(max(raw, 0), 1) - raw)/T_i;
  opening = min(max(max(throttle, 0), raw), 1);
  T_torque*der(tau) = noEvent(Movrel.Tables.linear2(map, w, opening)) - tau;
  drag = noEvent(Movrel.Tables.linear2(map, w, 0));
  J*der(w) = tau + b.tau;
  fuel = max(0, tau - drag)*max(w, 0)/(eta_i*H_u);
  der(fuel_used) = fuel;
initial equation
  tau = noEvent(Movrel.Tables.linear2(map, w, max(0, throttle)));
  annotation (
    Icon(graphics={
      Rectangle(extent={{-70,60},{70,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,50},{30,10}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,10},{0,-10}}, color={40,44,60}),
      Ellipse(extent={{-24,-8},{24,-56}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{70,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{-70,0}}, color={40,44,60}),
      Text(extent={{-150,110},{150,70}}, textString="%name")}),
    Documentation(info="<html><p><i>J dw/dt = τ(w, throttle) - load</i>; the torque follows its map with a lag; the governor opens the throttle below the idle speed; consumption <i>(τ - τ_drag) w/(η_i H_u)</i>.</p></html>"),
    __Movrel(synonyms={"motor", "diesel", "combustion", "idle", "Willans"}, source="Guzzella and Onder, Introduction to Modeling and Control of Internal Combustion Engine Systems, 2010, chapter 2"));
end Engine;
