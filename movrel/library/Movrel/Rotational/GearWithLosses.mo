within Movrel.Rotational;
model GearWithLosses "Gear with a fixed ratio and an efficiency"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Ratio i = 2 "Ratio: turns of a for one turn of b";
  parameter Ratio eta(min=0.01, max=1) = 0.95 "Efficiency when a drives b";
  parameter Ratio eta_back(min=0.01, max=1) = eta "Efficiency when b drives a";
  parameter AngularVelocity w_small(min=1e-9) = 0.1 "Speed of a below which the losses grow with the speed";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  AngularVelocity w "Speed of a";
  Power P "Power into a";
  Torque tau_loss "Torque that is lost, at a";
protected
  Real t "Direction, -1 to 1, smooth about standstill";
equation
  assert(abs(i) > 1e-12, "the ratio must not be zero");
  a.phi = i*b.phi;
  w = der(a.phi);
  P = a.tau*w;
  t = tanh(w/w_small);
  tau_loss = if a.tau > 0 then a.tau*t*(if t > 0 then 1 - eta else 1/eta_back - 1)
    else -a.tau*t*(if t > 0 then 1/eta_back - 1 else 1 - eta);
  b.tau = -i*(a.tau - tau_loss);
  loss = tau_loss*w;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-50,40},{-10,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{10,80},{50,-80}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{30,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-100,-44},{0,-80}}, textString="η"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="i = %i")}),
    Documentation(info="<html><p><i>phi_a = i phi_b</i>; <i>tau_b = -i η tau_a</i> when a drives and <i>-i tau_a/η_back</i> when b drives, the losses growing smoothly from standstill</p></html>"),
    __Movrel(synonyms={"gearbox", "efficiency", "worm", "mesh loss"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end GearWithLosses;
