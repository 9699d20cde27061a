within Movrel.Process.Mixtures;
model Junction "Three flows meet"
  parameter Integer n(min=1) = 1 "Number of species";
  MixturePort a(n=n) "One flow" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  MixturePort b(n=n) "Another" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  MixturePort d(n=n) "Third" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
equation
  connect(a, b);
  connect(a, d);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{100,0}}, color={38,106,118}, thickness=0.5),
      Line(points={{0,0},{0,-100}}, color={38,106,118}, thickness=0.5),
      Ellipse(extent={{-10,10},{10,-10}}, lineColor={38,106,118}, fillColor={38,106,118}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Mass, species and heat that flow in flow out: the language's rule for streams mixes them in proportion to the flows</p></html>"),
    __Movrel(synonyms={"mixer", "splitter", "tee", "branch"}, source="Specification of the language, chapter 15"));
end Junction;
