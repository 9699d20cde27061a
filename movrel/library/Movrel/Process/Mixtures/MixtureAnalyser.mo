within Movrel.Process.Mixtures;
model MixtureAnalyser "Measures temperature and composition of a flow"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 1 "Number of species";
  parameter SpecificHeatCapacity c_p(min=1e-9) = 4180 "Specific heat";
  MixturePort a(n=n) "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  MixturePort b(n=n) "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalOut T(unit="K") "Temperature" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
  Real c[n](each unit="mol/kg") "Moles of each species in a kilogram";
equation
  a.m + b.m = 0;
  a.p = b.p;
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  a.c = inStream(b.c);
  b.c = inStream(a.c);
  T = T_zero + actualStream(a.h)/c_p;
  c = actualStream(a.c);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="T c"),
      Line(points={{-100,0},{-60,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>No pressure drop.</p></html>"),
    __Movrel(synonyms={"measure", "analyser"}, source="Specification of the language, chapter 15"));
end MixtureAnalyser;
