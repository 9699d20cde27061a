within Movrel.Process.Mixtures;
model Outfall "Place that takes whatever flows in"
  import Movrel.Units.*;
  parameter Integer n(min=1) = 1 "Number of species";
  parameter Pressure p = 0 "Pressure above the surroundings";
  parameter Temperature T = 293.15 "Temperature of what would flow back";
  parameter SpecificHeatCapacity c_p(min=1e-9) = 4180 "Specific heat";
  MixturePort port(n=n) "Inlet" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
equation
  port.p = p;
  port.h = c_p*(T - T_zero);
  port.c = fill(0, n);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0},{-40,-20}}, color={38,106,118}, thickness=0.5),
      Line(points={{-70,-30},{-40,-40},{-10,-30},{20,-40},{50,-30},{80,-40}}, color={38,106,118}, thickness=0.5),
      Line(points={{-40,-56},{-10,-66},{20,-56},{50,-66}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>p</i> is given</p></html>"),
    __Movrel(synonyms={"sink", "drain", "boundary"}, source="Specification of the language, chapter 15"));
end Outfall;
