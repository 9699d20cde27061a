within Movrel.Vehicles;
model Tyre "Tyre with slip, which also holds at standstill"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Length r(min=1e-6) = 0.35 "Rolling radius";
  parameter Ratio mu(min=0) = 0.9 "Largest friction coefficient";
  parameter Ratio B(min=1e-6) = 10 "Stiffness factor of the slip curve";
  parameter Ratio C(min=1e-6) = 1.6 "Shape factor of the slip curve";
  parameter Length relaxation(min=1e-6) = 0.2 "Way in which the slip follows";
  parameter Ratio c_r(min=0) = 0.012 "Rolling resistance";
  parameter Velocity v_low(min=1e-6) = 0.5 "Speed below which the carcass damps and rolling resistance fades";
  Movrel.Rotational.Shaft a "Hub" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Translational.Rod b "Vehicle" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalIn load(unit="N") "Load on the wheel" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Velocity v "Speed of the vehicle";
  AngularVelocity w "Speed of the wheel";
  Ratio slip(start=0, fixed=true) "Longitudinal slip, positive when it drives";
  Force F "Force on the vehicle, rolling resistance apart";
  Force F_roll "Rolling resistance";
equation
  v = der(b.s);
  w = der(a.phi);
  relaxation*der(slip) = r*w - v - abs(v)*slip;
  F = max(load, 0)*(mu*sin(C*atan(B*slip)) + 0.02*mu*B*C/v_low*(r*w - v)*exp(-(v/v_low)^2));
  F_roll = c_r*max(load, 0)*v/sqrt(v^2 + v_low^2);
  b.f = -(F - F_roll);
  a.tau = r*F;
  loss = F*(r*w - v) + F_roll*v;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-36,36},{36,-36}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{0,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-70,-60},{70,-60}}, color={40,44,60}),
      Line(points={{0,100},{0,60}}, color={40,44,60}),
      Text(extent={{-150,-66},{150,-106}}, textString="%name")}),
    Documentation(info="<html><p><i>F = μ F_z sin(C atan(B κ))</i>, the slip κ follows over the relaxation length: <i>σ dκ/dt = r w - v - |v| κ</i>; so it holds at standstill, too.</p></html>"),
    __Movrel(synonyms={"tire", "wheel", "traction", "slip curve"}, source="Pacejka, Tyre and Vehicle Dynamics, 3rd ed. 2012, sections 4.3 and 7.2"));
end Tyre;
