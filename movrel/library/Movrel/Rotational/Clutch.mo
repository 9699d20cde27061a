within Movrel.Rotational;
model Clutch "Friction clutch between two shafts, engaged by a signal"
  import Movrel.Units.*;
  extends Sticking;
  parameter Torque tau_max(min=0) = 100 "Largest torque while it slips, fully engaged";
  parameter Ratio peak(min=1) = 1 "Static over sliding friction";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalIn u "How far it is applied, 0 to 1" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  phi_rel = b.phi - a.phi;
  a.tau = -tau;
  b.tau = tau;
  tau_slip = tau_max*min(max(u, 0), 1);
  tau_static = peak*tau_slip;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-12,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-12,60},{-12,-60}}, color={40,44,60}, thickness=0.5),
      Line(points=DynamicSelect({{24,60},{24,-60}}, if u > 0.5 then {{4,60},{4,-60}} else {{24,60},{24,-60}}), color={40,44,60}, thickness=0.5),
      Line(points={{24,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{24,100},{24,60}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p>Sliding torque <i>tau_max u</i>. It really sticks: while it does, the speed keeps its value and the torque is what the rest of the plant asks for, up to the static limit; the change of state is an event.</p></html>"),
    __Movrel(synonyms={"coupling", "gearshift", "launch"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Clutch;
