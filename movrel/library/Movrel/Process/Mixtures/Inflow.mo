within Movrel.Process.Mixtures;
model Inflow "Flow with a given composition and temperature"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 1 "Number of species";
  parameter Real c[n](each unit="mol/kg") = fill(0, n) "Moles of each species in a kilogram";
  parameter Temperature T = 293.15 "Temperature";
  parameter SpecificHeatCapacity c_p(min=1e-9) = 4180 "Specific heat";
  Movrel.Signals.SignalIn m(unit="kg/s") "Mass flow" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  MixturePort port(n=n) "Outlet" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  port.m = -m;
  port.h = c_p*(T - T_zero);
  port.c = c;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={38,106,118}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-40,0},{10,0}}, color={38,106,118}, thickness=0.5),
      Polygon(points={{6,20},{44,0},{6,-20},{6,20}}, lineColor={38,106,118}, fillColor={38,106,118}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>m</i> is the signal; composition and temperature are given</p></html>"),
    __Movrel(synonyms={"feed", "dosing", "source"}, source="Specification of the language, chapter 15"));
end Inflow;
