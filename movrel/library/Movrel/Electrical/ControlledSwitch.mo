within Movrel.Electrical;
model ControlledSwitch "Switch that a signal closes"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Resistance R_on(min=1e-12) = 1e-4 "Resistance while closed";
  parameter Conductance G_off(min=0) = 1e-9 "Conductance while open";
  Movrel.Signals.LogicIn closed "Closed while true" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
equation
  0 = if closed then v - R_on*i else i - G_off*v;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0}}, color={40,44,60}),
      Ellipse(extent={{-44,4},{-36,-4}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{40,0},{100,0}}, color={40,44,60}),
      Line(points=DynamicSelect({{-40,0},{36,34}}, if closed then {{-40,0},{40,0}} else {{-40,0},{36,34}}), color={40,44,60}, thickness=0.5),
      Line(points={{0,100},{0,20}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>v = R_on i</i> while closed, <i>i = G_off v</i> while open</p></html>"),
    __Movrel(synonyms={"contactor", "relay", "transistor"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end ControlledSwitch;
