within Movrel.Hydraulics;
model Accumulator "Gas accumulator"
  import Movrel.Units.*;
  parameter Volume V_gas(displayUnit="l", min=1e-12) = 1e-3 "Volume of the gas when there is no oil in it";
  parameter Pressure p_precharge(displayUnit="bar", min=0) = 60e5 "Pressure of the gas then, above the surroundings";
  parameter Ratio n(min=1, max=1.8) = 1.2 "Polytropic exponent: 1 slow, 1.4 fast";
  parameter Pressure p_start(displayUnit="bar") = 0 "Pressure of the oil at the start";
  parameter Volume V_dead(displayUnit="cm3", min=1e-15) = V_gas/100 "Oil that stays at its inlet";
  outer Oil oil "Oil of the circuit";
  OilPort port "Opening" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Pressure p(displayUnit="bar", start=p_start, stateSelect=StateSelect.prefer) "Pressure of the oil above the surroundings";
  Volume V(displayUnit="l") "Oil in it, besides what stays at its inlet";
  Boolean charged "The gas is pressed together";
  Volume V_free(displayUnit="l") "What it holds, as volume at ambient pressure";
protected
  Real growth(unit="m3/Pa") "Rate of the volume of oil over the pressure";
equation
  assert(p < 1e3*(p_precharge + oil.p_ambient), "the accumulator is full", AssertionLevel.warning);
  port.p = p;
  charged = p > p_precharge;
  V = if charged then V_gas*(1 - ((p_precharge + oil.p_ambient)/(p + oil.p_ambient))^(1/n)) else 0;
  V_free = (V + V_dead)/relative_volume(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  growth = if charged then (V_gas - V)/(n*(p + oil.p_ambient)) else 0;
  ((V + V_dead)*capacity(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)
    + growth/relative_volume(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient))*der(p) = port.q;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-36,80},{36,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, radius=72),
      Line(points={{-36,5},{36,5}}, color={40,44,60}),
      Polygon(points={{-12,44},{12,44},{0,24},{-12,44}}, lineColor={40,44,60}),
      Line(points={{0,-70},{0,-100}}, color={70,76,138}, thickness=0.5),
      Text(extent={{44,90},{260,50}}, textString="%name", horizontalAlignment=TextAlignment.Left),
      Text(extent={{44,44},{260,10}}, textString="%V_gas", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>(p + p_amb) V_gasⁿ</i> constant once the pressure exceeds the precharge; below it only the oil at the inlet gives.</p></html>"),
    __Movrel(synonyms={"bladder", "gas spring", "energy store", "damper", "hydropneumatic"}, source="Polytropic change of an ideal gas; symbol ISO 1219-1"));
end Accumulator;
