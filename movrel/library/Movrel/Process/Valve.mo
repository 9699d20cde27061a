within Movrel.Process;
model Valve "Control valve by Kv and characteristic"
  import Movrel.Units.*;
  parameter Real K_v(min=0) = 10 "Flow in m3/h of water at 1 bar, fully open";
  parameter Characteristic characteristic = Characteristic.linear "How the flow grows with the lift";
  parameter Ratio R(min=1.1) = 50 "Rangeability, for equal percentage";
  parameter Ratio leak(min=0) = 0 "Flow when closed, as a part of K_v";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  parameter Pressure dp_small(min=1e-6) = 10 "Pressure drop below which the flow is linear, to keep it smooth";
  Movrel.Signals.SignalIn lift "Lift, 0 closed to 1 open" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  LiquidPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure dp "Pressure drop from a to b";
  VolumeFlowRate q(displayUnit="l/s") "Flow from a to b";
  Ratio opening "Part of K_v at this lift";
protected
  Ratio y "Lift within its limits";
equation
  assert(K_v > 0, "K_v must be positive: with K_v = 0 nothing ever flows");
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  y = min(max(lift, 0), 1);
  opening = max(leak, if characteristic == Characteristic.linear then y
    elseif characteristic == Characteristic.equal_percentage then (R^y - 1)/(R - 1)
    else sqrt(y));
  q = opening*K_v/3600*dp/sqrt(1e5*rho/1000*(abs(dp) + dp_small));
  annotation (
    Icon(graphics={
      Polygon(points={{-60,40},{60,-40},{60,40},{-60,-40},{-60,40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-60,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{0,0},{0,60}}, color={40,44,60}),
      Line(points=DynamicSelect({{-30,60},{30,60}}, {{-30,40 + 40*lift},{30,40 + 40*lift}}), color={40,44,60}, thickness=0.5),
      Line(points={{0,60},{0,100}}, color={40,44,60}),
      Text(extent={{-190,150},{-20,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%K_v")}),
    Documentation(info="<html><p><i>q = y K_v √(Δp/1 bar · 1000/ρ)</i>; y is linear in the lift, equal percentage <i>(Rˡ - 1)/(R - 1)</i>, or quick opening <i>√lift</i></p></html>"),
    __Movrel(synonyms={"control valve", "Kvs", "Cv", "actuator", "throttle"}, source="IEC 60534-2-1; symbol ISO 14617"));
end Valve;
