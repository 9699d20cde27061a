within Movrel.Rotational;
model Brake "Brake against the ground, applied by a signal"
  import Movrel.Units.*;
  parameter Torque tau_max(min=0) = 100 "Largest torque while it slips, fully applied";
  parameter Ratio peak(min=1) = 1 "Static over sliding friction";
  parameter AngularVelocity w_tiny(min=1e-15) = 1e-7 "Speed from which a start counts as slipping" annotation (Dialog(tab="Numbers"));
  Flange a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Signals.RealInput u "How far it is applied, 0 to 1" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Angle phi_rel "Position";
  AngularVelocity w_rel "Speed";
  AngularAcceleration alpha "Its rate of change";
  Torque tau "Friction";
  Torque tau_static "Largest friction while it sticks";
  Torque tau_slip "Friction while it slips";
  Integer way(start=0, fixed=true) "1 and -1 slipping forward and backward, 0 sticking";
  Power loss "Power turned to heat";
protected
  Torque forward "How far what it must hold exceeds the limit, while it sticks";
  Torque backward "The same the other way";
  AngularVelocity along "Speed in the way in which it slips";
  AngularAcceleration gaining "Its rate of change";
equation
  phi_rel = a.phi;
  a.tau = tau;
  w_rel = der(phi_rel);
  alpha = der(w_rel);
  tau_slip = tau_max*min(max(u, 0), 1);
  tau_static = peak*tau_slip;
  if pre(way) == 0 then
    alpha = 0;
  else
    tau = pre(way)*tau_slip;
  end if;
  forward = if pre(way) == 0 then tau - tau_static else -1;
  backward = if pre(way) == 0 then -tau - tau_static else -1;
  along = if pre(way) == 0 or tau_static <= 0 then 1 else pre(way)*w_rel;
  gaining = if pre(way) == 0 or tau_static <= 0 then 1 else pre(way)*alpha;
  way = if tau_static <= 0 then 1 elseif pre(way) == 0 then (if w_rel > w_tiny or forward > 0 then 1 elseif w_rel < -w_tiny or backward > 0 then -1 else 0)
    elseif along <= 0 and gaining < 0 then 0 else pre(way);
  loss = tau*w_rel;
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
