within Movrel.Process;
model CheckValve "Valve that lets liquid through one way"
  import Movrel.Units.*;
  parameter Real K_v(min=1e-9) = 100 "Flow in m3/h of water at 1 bar when open";
  parameter Pressure dp_open(min=0) = 0 "Pressure that opens it";
  parameter Ratio leak(min=1e-12) = 1e-6 "Flow backwards, as a part of the flow forwards";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  parameter Pressure dp_small(min=1e-6) = 10 "Pressure drop below which the flow is linear, to keep it smooth";
  LiquidPort a "Upstream" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  LiquidPort b "Downstream" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Pressure dp "Pressure drop from a to b";
  VolumeFlowRate q(displayUnit="l/s") "Flow from a to b";
equation
  dp = a.p - b.p;
  a.q = q;
  b.q = -q;
  q = K_v/3600*(if dp > dp_open then (dp - dp_open)/sqrt(1e5*rho/1000*(dp - dp_open + dp_small))
    else leak*(dp - dp_open)/sqrt(1e5*rho/1000*(dp_open - dp + dp_small)));
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Polygon(points={{-60,40},{60,0},{-60,-40},{-60,40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,40},{60,-40}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Forwards as a valve, backwards a small leak</p></html>"),
    __Movrel(synonyms={"non-return", "flap", "one-way"}, source="IEC 60534-2-1; symbol ISO 14617"));
end CheckValve;
