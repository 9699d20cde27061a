within Movrel.Rotational;
model LossyGear "Gear with a fixed ratio and an efficiency"
  import Movrel.Units.*;
  parameter Ratio i = 2 "Ratio: turns of a for one turn of b";
  parameter Ratio eta(min=0.01, max=1) = 0.95 "Efficiency when a drives b";
  parameter Ratio eta_back(min=0.01, max=1) = eta "Efficiency when b drives a";
  parameter Power P_small(min=1e-9) = 0.01 "Power about which the direction changes over smoothly";
  Flange a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Flange b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Power P "Power into a";
  Power loss "Power turned to heat";
protected
  Real s "From -1, b drives, to 1, a drives";
equation
  assert(abs(i) > 1e-12, "the ratio must not be zero");
  a.phi = i*b.phi;
  P = a.tau*der(a.phi);
  s = tanh(P/P_small);
  b.tau = -i*a.tau*(if s > 0 then 1 + s*(eta - 1) else 1 - s*(1/eta_back - 1));
  loss = P + b.tau*der(b.phi);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-50,40},{-10,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{10,80},{50,-80}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{30,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-100,-44},{0,-80}}, textString="η"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="i = %i")}),
    Documentation(info="<html><p><i>phi_a = i phi_b</i>; <i>tau_b = -i η tau_a</i> when a drives and <i>-i tau_a/η_back</i> when b drives, changing over smoothly about no power</p></html>"),
    __Movrel(synonyms={"gearbox", "efficiency", "worm", "mesh loss"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end LossyGear;
