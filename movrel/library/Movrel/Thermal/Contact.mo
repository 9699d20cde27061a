within Movrel.Thermal;
model Contact "Heat transfer through a contact that a signal closes"
  import Movrel.Units.*;
  parameter ThermalConductance G(min=0) = 10 "Conductance while it touches";
  Movrel.Signals.LogicIn touching "Whether it touches" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  ThermalNode a "One side" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  ThermalNode b "Other side" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  HeatFlowRate Q "Heat flow from a to b";
equation
  a.Q = Q;
  b.Q = -Q;
  Q = if touching then G*(a.T - b.T) else 0;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={136,64,50}),
      Line(points={{60,0},{100,0}}, color={136,64,50}),
      Rectangle(extent={{-60,50},{-6,-50}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{6,50},{60,-50}}, lineColor={136,64,50}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,100},{0,0}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>Q = G (T_a - T_b)</i> while it touches, else none</p></html>"),
    __Movrel(synonyms={"contact resistance", "thermal switch", "joint"}, source="Incropera and DeWitt, Fundamentals of Heat and Mass Transfer"));
end Contact;
