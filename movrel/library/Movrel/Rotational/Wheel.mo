within Movrel.Rotational;
model Wheel "Wheel that rolls with slip"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Length r(min=1e-6) = 0.3 "Rolling radius";
  parameter Force F_N(min=0) = 3000 "Load on the wheel";
  parameter Ratio mu(min=0) = 0.9 "Largest friction coefficient";
  parameter Ratio B = 10 "Stiffness factor of the slip curve";
  parameter Ratio C = 1.6 "Shape factor of the slip curve";
  parameter Velocity v_small(min=1e-6) = 0.1 "Speed below which slip is related to it";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Translational.Rod b "Vehicle" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Ratio slip "Longitudinal slip, positive when it drives";
  Velocity v "Speed of the vehicle";
  AngularVelocity w "Speed of the wheel";
  Force F "Force on the vehicle";
equation
  v = der(b.s);
  w = der(a.phi);
  slip = (r*w - v)/sqrt(v_small^2 + (if abs(r*w) > abs(v) then r*w else v)^2);
  F = mu*F_N*sin(C*atan(B*slip));
  b.f = -F;
  a.tau = r*F;
  loss = F*(r*w - v);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-70,80},{70,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-12,22},{12,-2}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-90,-60},{90,-60}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,0},{-12,10}}, color={40,44,60}, thickness=0.5),
      Line(points={{12,10},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%r")}),
    Documentation(info="<html><p><i>F = mu F_N sin(C atan(B slip))</i>, slip = (r w - v)/max(|r w|, |v|)</p></html>"),
    __Movrel(synonyms={"tyre", "tire", "traction", "slip curve"}, source="Pacejka, Tyre and Vehicle Dynamics, 3rd ed. 2012, section 4.3"));
end Wheel;
