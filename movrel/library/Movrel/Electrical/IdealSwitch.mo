within Movrel.Electrical;
model IdealSwitch "Switch that opens or closes at a time"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Time t_switch = 1 "When it switches";
  parameter Boolean closed_first = false "Whether it is closed before";
  parameter Resistance R_on(min=1e-12) = 1e-4 "Resistance while closed";
  parameter Conductance G_off(min=0) = 1e-9 "Conductance while open";
  Boolean closed "Whether it is closed";
equation
  closed = if time < t_switch then closed_first else not closed_first;
  0 = if closed then v - R_on*i else i - G_off*v;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0}}, color={40,44,60}),
      Ellipse(extent={{-44,4},{-36,-4}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{40,0},{100,0}}, color={40,44,60}),
      Line(points=DynamicSelect({{-40,0},{36,34}}, if closed then {{-40,0},{40,0}} else {{-40,0},{36,34}}), color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%t_switch")}),
    Documentation(info="<html><p><i>v = R_on i</i> while closed, <i>i = G_off v</i> while open</p></html>"),
    __Movrel(synonyms={"contact", "breaker", "load step"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end IdealSwitch;
