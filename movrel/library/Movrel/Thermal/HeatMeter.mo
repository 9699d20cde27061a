within Movrel.Thermal;
model HeatMeter "Measures a heat flow"
  import Movrel.Units.*;
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.SignalOut Q(unit="W") "Heat flow from a to b" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  a.T = b.T;
  a.Q + b.Q = 0;
  Q = a.Q;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-50,0}}, color={136,64,50}),
      Text(extent={{-40,34},{40,-34}}, textString="Q"),
      Line(points={{50,0},{100,0}}, color={136,64,50}),
      Line(points={{0,-50},{0,-100}}, color={40,44,60}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>It has no resistance.</p></html>"),
    __Movrel(synonyms={"measure"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end HeatMeter;
