within Movrel.Electrical;
model Battery "Battery: open-circuit voltage, resistance and RC pairs"
  import Movrel.Units.*;
  extends TwoTerminals;
  extends Movrel.Thermal.Dissipation;
  parameter Charge capacity(min=1e-3, displayUnit="A.h") = 36000 "Charge between empty and full";
  parameter Real soc_start(min=0, max=1) = 1 "State of charge at the start";
  parameter Real ocv[:, 2] = [0, 3.0; 0.1, 3.45; 0.5, 3.7; 0.9, 4.0; 1, 4.2] "State of charge and open-circuit voltage of a cell in V";
  parameter Integer cells(min=1) = 1 "Cells in series";
  parameter Resistance R_0(min=0) = 2e-3 "Resistance of a cell";
  parameter Resistance R[:] = {1e-3} "Resistances of the RC pairs of a cell";
  parameter Time tau[size(R, 1)] = fill(30, size(R, 1)) "Their time constants";
  Real soc(start=soc_start, fixed=true) "State of charge";
  Voltage v_rc[size(R, 1)](each start=0, each fixed=true) "Voltages of the RC pairs of a cell";
  Voltage v_oc "Open-circuit voltage of a cell";
equation
  assert(soc > -0.01 and soc < 1.01, "the battery is over- or undercharged: its state of charge left 0 to 1", AssertionLevel.warning);
  capacity*der(soc) = i;
  v_oc = Movrel.Tables.linear(ocv, soc);
  for k in 1:size(R, 1) loop
    tau[k]*der(v_rc[k]) = R[k]*i - v_rc[k];
  end for;
  v = cells*(v_oc + R_0*i + sum(v_rc));
  loss = v*i - cells*v_oc*i;
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
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%cells ×")}),
    Documentation(info="<html><p><i>v = n (OCV(soc) + R_0 i + Σ v_k)</i>, <i>tau_k dv_k/dt = R_k i - v_k</i>, <i>Q dsoc/dt = i</i></p></html>"),
    __Movrel(synonyms={"accumulator", "cell", "state of charge", "SOC", "OCV"}, source="Plett, Battery Management Systems, vol. 1, 2015, chapter 2"));
end Battery;
