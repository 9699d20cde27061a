within Movrel.Electrical;
model Wattmeter "Measures a power"
  import Movrel.Units.*;
  Terminal a "Current path in" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Terminal b "Current path out" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Terminal c "Voltage path, other side" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Movrel.Signals.SignalOut P(unit="W") "Power from a to b against c" annotation (Placement(transformation(extent={{-10,-120},{10,-100}})));
equation
  a.v = b.v;
  a.i + b.i = 0;
  c.i = 0;
  P = (a.v - c.v)*a.i;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-50,50},{50,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-40,34},{40,-34}}, textString="W"),
      Line(points={{-100,0},{-50,0}}, color={40,44,60}),
      Line(points={{50,0},{100,0}}, color={40,44,60}),
      Line(points={{0,-50},{0,-100}}, color={40,44,60}),
      Line(points={{0,50},{0,100}}, color={40,44,60}),
      Text(extent={{-150,150},{-20,110}}, textString="%name")}),
    Documentation(info="<html><p><i>P = (v_a - v_c) i</i>; it takes no power</p></html>"),
    __Movrel(synonyms={"measure", "sensor", "power"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Wattmeter;
