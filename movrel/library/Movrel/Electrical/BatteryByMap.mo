within Movrel.Electrical;
model BatteryByMap "Battery by maps of state of charge and temperature"
  import Movrel.Units.*;
  extends TwoTerminals;
  parameter Charge capacity(min=1e-3, displayUnit="A.h") = 36000 "Charge between empty and full";
  parameter Real soc_start(min=0, max=1) = 1 "State of charge at the start";
  parameter Integer cells(min=1) = 1 "Cells in series";
  parameter Real ocv[:, :] = [0, 263.15, 298.15, 318.15; 0, 2.9, 3.0, 3.02; 0.1, 3.38, 3.45, 3.46; 0.5, 3.66, 3.7, 3.7; 0.9, 3.98, 4.0, 4.0; 1, 4.18, 4.2, 4.2] "Open-circuit voltage of a cell in V: state of charge down the first column, temperature in K across the first row";
  parameter Real R_i[:, :] = [0, 263.15, 298.15, 318.15; 0, 12e-3, 4e-3, 3e-3; 0.2, 8e-3, 2.5e-3, 1.9e-3; 1, 7e-3, 2e-3, 1.6e-3] "Resistance of a cell in Ohm, in the same way";
  parameter HeatCapacity C_th(min=1e-6) = 80 "Heat capacity of a cell" annotation (Dialog(group="Heat"));
  parameter ThermalConductance G(min=0) = 0.15 "Conductance for heat from a cell to the surroundings" annotation (Dialog(group="Heat"));
  parameter Temperature T_start(displayUnit="degC") = 298.15 "Temperature at the start" annotation (Dialog(group="Heat"));
  parameter Temperature T_ambient(displayUnit="degC") = 298.15 "Temperature of the surroundings, where it has no heat port" annotation (Dialog(group="Heat", enable=not heated));
  parameter Boolean heated = false "Has a heat port in place of the surroundings" annotation (Evaluate=true, Dialog(group="Heat"));
  Movrel.Thermal.ThermalNode heat(T=T_outside, Q=-Q_out) if heated "Heat port" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Real soc(start=soc_start, fixed=true) "State of charge";
  Temperature T(start=T_start, fixed=true, displayUnit="degC") "Temperature of the cells";
  Voltage v_oc "Open-circuit voltage of a cell";
  Resistance R_cell "Resistance of a cell";
  Power loss "Power turned to heat";
  Power Q_out "Heat that leaves it";
protected
  Temperature T_outside "Temperature of what the heat goes to";
equation
  assert(soc > -0.01 and soc < 1.01, "the battery is over- or undercharged: its state of charge left 0 to 1", AssertionLevel.warning);
  capacity*der(soc) = i;
  v_oc = Movrel.Tables.linear2(ocv, soc, T);
  R_cell = Movrel.Tables.linear2(R_i, soc, T);
  v = cells*(v_oc + R_cell*i);
  loss = cells*R_cell*i^2;
  cells*C_th*der(T) = loss - Q_out;
  Q_out = cells*G*(T - T_outside);
  if not heated then
    T_outside = T_ambient;
  end if;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0}}, color={40,44,60}),
      Line(points={{40,0},{100,0}}, color={40,44,60}),
      Line(points={{-40,50},{-40,-50}}, color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, {{-40 + 40/(min(cells, 8) - 0.5),25},{-40 + 40/(min(cells, 8) - 0.5),-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 2 then {{-40 + 80*(1 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(1 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 2 then {{-40 + 80*(1 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(1 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 3 then {{-40 + 80*(2 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(2 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 3 then {{-40 + 80*(2 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(2 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 4 then {{-40 + 80*(3 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(3 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 4 then {{-40 + 80*(3 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(3 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 5 then {{-40 + 80*(4 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(4 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 5 then {{-40 + 80*(4 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(4 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 6 then {{-40 + 80*(5 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(5 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 6 then {{-40 + 80*(5 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(5 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 7 then {{-40 + 80*(6 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(6 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 7 then {{-40 + 80*(6 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(6 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Line(points=DynamicSelect({{-40,50},{-40,-50}}, if cells >= 8 then {{-40 + 80*(7 + 0)/(min(cells, 8) - 0.5),50},{-40 + 80*(7 + 0)/(min(cells, 8) - 0.5),-50}} else {{-40,50},{-40,-50}}), color={40,44,60}, thickness=0.25),
      Line(points=DynamicSelect({{40,25},{40,-25}}, if cells >= 8 then {{-40 + 80*(7 + 0.5)/(min(cells, 8) - 0.5),25},{-40 + 80*(7 + 0.5)/(min(cells, 8) - 0.5),-25}} else {{40,25},{40,-25}}), color={40,44,60}, thickness=0.75),
      Text(extent={{-90,50},{-50,15}}, textString="+"),
      Rectangle(extent={{-30,-60},{30,-96}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-10,-60},{-10,-96}}, color={40,44,60}, thickness=0.25),
      Line(points={{10,-60},{10,-96}}, color={40,44,60}, thickness=0.25),
      Line(points={{-30,-78},{30,-78}}, color={40,44,60}, thickness=0.25),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%cells ×")}),
    Documentation(info="<html><p><i>v = n (OCV(soc, T) + R(soc, T) i)</i>, <i>Q dsoc/dt = i</i>, <i>C dT/dt = R i² - G (T - T_outside)</i> for each cell; straight lines between the points of the maps, which go on as at their ends.</p></html>"),
    __Movrel(synonyms={"accumulator", "cell", "state of charge", "SOC", "OCV", "map", "look-up"}, source="Plett, Battery Management Systems, vol. 1, 2015, chapter 2"));
end BatteryByMap;
