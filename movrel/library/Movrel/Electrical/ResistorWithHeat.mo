within Movrel.Electrical;
model ResistorWithHeat "Resistor that depends on its temperature and gives off heat"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Resistance R(min=1e-12) = 1 "Resistance at the reference temperature";
  parameter Temperature T_ref = 293.15 "Reference temperature";
  parameter Real alpha(unit="1/K") = 3.93e-3 "Temperature coefficient; copper 0.00393";
  Movrel.Thermal.ThermalNode heat "Heat that it gives off" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Resistance R_T "Resistance at its temperature";
  Power loss "Power turned to heat";
equation
  R_T = R*(1 + alpha*(heat.T - T_ref));
  v = R_T*i;
  loss = v*i;
  heat.Q = -loss;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Rectangle(extent={{-60,25},{60,-25}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,-25},{0,-100}}, color={136,64,50}, pattern=LinePattern.Dash, thickness=0.25),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>v = R (1 + alpha (T - T_ref)) i</i>; all of <i>v i</i> goes to the heat port</p></html>"),
    __Movrel(synonyms={"heater", "winding", "temperature", "PTC"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end ResistorWithHeat;
