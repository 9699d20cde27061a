within Movrel.Thermal;
model ForcedConvection "Heat transfer whose coefficient a signal gives"
  import Movrel.Units.*;
  Movrel.Signals.SignalIn G(unit="W/K") "Conductance: coefficient times area" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  Q = G*(a.T - b.T);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-60,60},{-40,-60}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-20,40},{60,40}}, color={136,64,50}),
      Line(points={{-20,0},{60,0}}, color={136,64,50}),
      Line(points={{-20,-40},{60,-40}}, color={136,64,50}),
      Line(points={{0,100},{0,60}}, color={40,44,60}),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>Q = G (T_a - T_b)</i></p></html>"),
    __Movrel(synonyms={"fan", "coolant", "film"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end ForcedConvection;
