within Movrel.Process;
model GasVessel "Closed vessel with a gas cushion"
  import Movrel.Units.*;
  parameter Volume V_total(min=1e-9) = 1 "Volume of the vessel";
  parameter Volume V_start(min=0) = 0.5 "Liquid at the start";
  parameter Pressure p_start = 0 "Pressure of the gas above the surroundings at the start";
  parameter Pressure p_ambient(min=1) = 101325 "Pressure of the surroundings";
  parameter Ratio n(min=0.9, max=1.7) = 1.2 "Polytropic exponent: 1 slow, 1.4 fast";
  Volume V(start=V_start, stateSelect=StateSelect.prefer) "Liquid in the vessel";
  Pressure p "Pressure above the surroundings";
  LiquidPort port "Opening at the floor" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
equation
  assert(V_start < V_total, "the liquid at the start V_start must be less than the vessel holds");
  assert(V > -1e-9 and V < V_total, "the vessel ran empty or full");
  der(V) = port.q;
  (p + p_ambient)*(V_total - V)^n = (p_start + p_ambient)*(V_total - V_start)^n;
  port.p = p;
  annotation (
    Icon(graphics={
      Rectangle(extent=DynamicSelect({{-60,0},{60,-78}}, {{-60,-78 + 156*V/V_total},{60,-78}}), lineColor={38,106,118}, pattern=LinePattern.None, fillColor={170,205,210}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{-60,80},{60,-80}}, lineColor={40,44,60}, radius=40),
      Line(points={{0,-80},{0,-100}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{16,-108},{186,-142}}, textString="%V_total")}),
    Documentation(info="<html><p><i>dV/dt = q</i>, <i>(p + p_amb)(V_total - V)ⁿ</i> constant</p></html>"),
    __Movrel(synonyms={"pressure vessel", "accumulator", "hydrophore", "surge"}, source="Polytropic change of an ideal gas; symbol ISO 14617"));
end GasVessel;
