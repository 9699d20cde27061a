within Movrel.Rotational;
model Brake "Brake against the ground, applied by a signal"
  import Movrel.Units.*;
  extends Sticking;
  parameter Torque tau_max(min=0) = 100 "Largest torque while it slips, fully applied";
  parameter Ratio peak(min=1) = 1 "Static over sliding friction";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.SignalIn u "How far it is applied, 0 to 1" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  phi_rel = a.phi;
  a.tau = tau;
  tau_slip = tau_max*min(max(u, 0), 1);
  tau_static = peak*tau_slip;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{60,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-10,60},{10,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,86},{30,66}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-30,-66},{30,-86}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,100},{0,86}}, color={40,44,60}),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p>Sliding friction <i>tau_max u</i>. It really sticks: while it does, the speed keeps its value and the torque is what the rest of the plant asks for, up to the static limit; the change of state is an event.</p></html>"),
    __Movrel(synonyms={"disc brake", "park brake", "holding brake"}, source="Armstrong-Hélouvry, Dupont and Canudas de Wit, Automatica 30 (1994) 1083"));
end Brake;
