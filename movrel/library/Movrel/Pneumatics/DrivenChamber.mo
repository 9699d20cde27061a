within Movrel.Pneumatics;
model DrivenChamber "Space of gas behind a piston that signals move"
  import Movrel.Units.*;
  extends GasSpace;
  parameter Area A(displayUnit="cm2") = 20e-4 "Area of the piston";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = 1e-5 "Volume that is left at the end";
  parameter Boolean cushioned = false "Its outlet is throttled near the end" annotation (Evaluate=true);
  parameter Length l_cushion(min=1e-9, displayUnit="mm") = 0.02 "Length of the cushion";
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 5e-8 "Sonic conductance of the port, where it is cushioned";
  parameter Real C_cushion(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 1e-9 "What is left of it at the end";
  Movrel.Signals.SignalIn s(unit="m") "Distance of the piston from the end" annotation (Placement(transformation(extent={{-40,100},{-20,120}})));
  Movrel.Signals.SignalIn v(unit="m/s") "Speed at which it grows" annotation (Placement(transformation(extent={{20,100},{40,120}})));
  GasPort port "Opening" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
equation
  V = A*s + V_dead;
  growth = A*v;
  m_in = port.m;
  port.h = gas.c_p*T;
  H_in = max(port.m, 0)*inStream(port.h) + min(port.m, 0)*gas.c_p*T;
  if cushioned then
    port.m = sonic_flow(port.p, p, upstream(port.p, p, inStream(port.h)/gas.c_p, T), if noEvent(port.p > p) then C else C_cushion + (C - C_cushion)*min(max(5*s/l_cushion - 4, 0), 1), 0.3, gas.rho_0);
  else
    port.p = p;
  end if;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,40},{60,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{20,40},{20,-40}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{-60,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{-30,100},{-30,40}}, color={40,44,60}),
      Line(points={{30,100},{30,40}}, color={40,44,60}),
      Text(extent={{-150,-50},{150,-90}}, textString="%name")}),
    Documentation(info="<html><p><i>V = A s + V_dead</i>; <i>dm/dt = Σ m</i>, <i>d(m c_v T)/dt = m h + Q - p dV/dt</i>; a cushion before its port, if it has one.</p></html>"),
    __Movrel(synonyms={"chamber", "moving wall", "piston"}, source="Beater, Pneumatic Drives, 2007, chapter 4"));
end DrivenChamber;
