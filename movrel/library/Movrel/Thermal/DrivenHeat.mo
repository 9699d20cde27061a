within Movrel.Thermal;
model DrivenHeat "Heat flow driven by a signal"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn Q(unit="W") "Heat flow" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  ThermalNode b "Where it goes" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  b.Q = -Q;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{-60,0},{60,0}}, color={136,64,50}, thickness=1),
      Polygon(points={{56,20},{96,0},{56,-20},{56,20}}, lineColor={136,64,50}, fillColor={136,64,50}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>A positive signal heats.</p></html>"),
    __Movrel(synonyms={"heater", "losses", "power", "fire"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end DrivenHeat;
