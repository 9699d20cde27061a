within Movrel.Vehicles;
model TorqueConverter "Torque converter by its capacity and torque ratio"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Real c_stall(unit="N.m.s2/rad2", min=0) = 0.004 "Torque of the pump over its speed squared while the turbine stands";
  parameter Real capacity[:, :] = [0, 1; 0.2, 1.02; 0.4, 1; 0.6, 0.92; 0.7, 0.84; 0.8, 0.7; 0.9, 0.45; 0.95, 0.28; 1, 0] "Speed ratio, and capacity over that at stall";
  parameter Real ratio[:, :] = [0, 2; 0.2, 1.8; 0.4, 1.55; 0.6, 1.3; 0.8, 1.05; 0.85, 1; 1, 1] "Speed ratio, and torque ratio of turbine and pump";
  parameter AngularVelocity w_small(min=1e-9) = 0.1 "Speed below which the speed ratio is not followed" annotation (Dialog(tab="Numbers"));
  Movrel.Rotational.Shaft a "Pump, from the engine" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Rotational.Shaft b "Turbine, to the gearbox" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  AngularVelocity w_a(displayUnit="rpm") "Speed of the pump";
  AngularVelocity w_b(displayUnit="rpm") "Speed of the turbine";
  Ratio nu "Speed ratio of the slower and the faster side";
  Torque tau_a "Torque that the pump takes up";
  Torque tau_b "Torque that the turbine gives";
protected
  AngularVelocity fast "Speed of the faster side";
equation
  w_a = der(a.phi);
  w_b = der(b.phi);
  fast = max(max(w_a, w_b), w_small);
  nu = min(max(min(w_a, w_b)/fast, 0), 1);
  tau_a = (if noEvent(w_a >= w_b) then 1 else -1)*c_stall*noEvent(Movrel.Tables.linear(capacity, nu))*(max(fast, 0)^2 - w_small^2);
  tau_b = tau_a*(if noEvent(w_a >= w_b) then noEvent(Movrel.Tables.linear(ratio, nu)) else 1);
  a.tau = tau_a;
  b.tau = -tau_b;
  loss = tau_a*w_a - tau_b*w_b;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-50,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{50,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-10,60},{-50,50},{-50,-50},{-10,-60}}, color={40,44,60}, smooth=Smooth.Bezier),
      Line(points={{10,60},{50,50},{50,-50},{10,-60}}, color={40,44,60}, smooth=Smooth.Bezier),
      Ellipse(extent={{-10,40},{10,20}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-10,-20},{10,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,120},{150,80}}, textString="%name")}),
    Documentation(info="<html><p><i>τ_a = c(ν) w_a²</i>, <i>τ_b = μ(ν) τ_a</i>, ν the speed ratio; when the turbine is faster it drives the pump with torque ratio 1.</p></html>"),
    __Movrel(synonyms={"hydrodynamic", "fluid coupling", "retarder", "K-factor"}, source="Mitschke and Wallentowitz, Dynamik der Kraftfahrzeuge, on converters; Föttinger's law"));
end TorqueConverter;
