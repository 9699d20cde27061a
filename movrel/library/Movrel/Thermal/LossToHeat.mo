within Movrel.Thermal;
model LossToHeat "Losses of another part as heat"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn loss(unit="W") "Power turned to heat elsewhere: friction, windings, switches" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  ThermalNode b "Where the heat goes" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.Q = -loss;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,34},{50,-34}}, textString="P→Q"),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>Q = loss</i></p></html>"),
    __Movrel(synonyms={"friction", "dissipation", "heating"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end LossToHeat;
