within Movrel.Process.Mixtures;
model Resistance "Pressure drop in proportion to the flow"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 1 "Number of species";
  parameter Real k(unit="Pa.s/kg", min=1e-9) = 1e4 "Pressure drop over mass flow";
  MixturePort a(n=n) "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  MixturePort b(n=n) "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  a.m + b.m = 0;
  a.p - b.p = k*a.m;
  a.h = inStream(b.h);
  b.h = inStream(a.h);
  a.c = inStream(b.c);
  b.c = inStream(a.c);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Rectangle(extent={{-60,25},{60,-25}}, lineColor={38,106,118}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%k")}),
    Documentation(info="<html><p><i>Δp = k m</i>; composition and temperature pass unchanged</p></html>"),
    __Movrel(synonyms={"filter", "hose", "pipe"}, source="Specification of the language, chapter 15"));
end Resistance;
