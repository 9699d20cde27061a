within Movrel.Thermal;
model HeatCapacity "Body with one temperature"
  import Movrel.Units.*;
  parameter Movrel.Units.HeatCapacity C(min=1e-12) = 1000 "Heat capacity: mass times specific heat";
  parameter Temperature T_start = 293.15 "Temperature at the start";
  ThermalNode a "Its surface" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Temperature T(start=T_start, stateSelect=StateSelect.prefer) "Temperature";
equation
  T = a.T;
  C*der(T) = a.Q;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-80,80},{80,-80}}, lineColor={136,64,50}, fillColor={232,214,206}, fillPattern=FillPattern.Solid),
      Line(points={{0,-80},{0,-100}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{16,-108},{186,-142}}, textString="%C")}),
    Documentation(info="<html><p><i>C dT/dt = Q</i></p></html>"),
    __Movrel(synonyms={"thermal mass", "lump", "storage", "body"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end HeatCapacity;
