within Movrel.Process;
model Pump "Centrifugal pump by its curve, at any speed"
  import Movrel.Units.*;
  parameter Real curve[:, 2] = [0, 20; 0.01, 18; 0.02, 12; 0.03, 0] "Flow in m3/s and head in m at the nominal speed";
  parameter AngularVelocity w_n(min=1e-6, displayUnit="rpm") = 152 "Nominal speed";
  parameter Ratio eta(min=0.01, max=1) = 0.7 "Efficiency";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  Movrel.Signals.SignalIn w(unit="rad/s") "Speed" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  LiquidPort a "Suction" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Discharge" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length head "Head";
  VolumeFlowRate q(start=curve[2, 1], displayUnit="l/s") "Flow from a to b";
  Power P "Shaft power";
protected
  Ratio n "Speed over nominal speed";
equation
  a.q = q;
  b.q = -q;
  n = max(w/w_n, 1e-6);
  head = n^2*Movrel.Tables.linear(curve, q/n) + (if q/n > curve[size(curve, 1), 1] then n^2*(q/n - curve[size(curve, 1), 1])*slope else 0)
    + (if q/n < curve[1, 1] then n^2*(q/n - curve[1, 1])*slope else 0);
  b.p - a.p = rho*g_n*head;
  P = rho*g_n*head*q/eta;
protected
  parameter Real slope = (curve[size(curve, 1), 2] - curve[size(curve, 1) - 1, 2])/(curve[size(curve, 1), 1] - curve[size(curve, 1) - 1, 1])
    "Slope with which the curve goes on beyond its ends";
  annotation (
    Icon(graphics={
      Ellipse(extent={{-70,70},{70,-70}}, lineColor={38,106,118}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{0,69},{69,0},{0,-69},{0,69}}, lineColor={38,106,118}, fillColor={38,106,118}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-70,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{70,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>H(q, n) = n² H_n(q/n)</i> (affinity laws), <i>p_b - p_a = ρ g H</i>, <i>P = ρ g H q/η</i></p></html>"),
    __Movrel(synonyms={"centrifugal", "head", "affinity", "discharge", "delivery"}, source="Gülich, Centrifugal Pumps, section 3.4; symbol ISO 14617"));
end Pump;
