within Movrel.Hydraulics;
model Chamber "Volume of oil that gives under pressure"
  import Movrel.Units.*;
  parameter Volume V(displayUnit="cm3", min=1e-15) = 1e-3 "Volume";
  parameter Pressure p_start(displayUnit="bar") = 0 "Pressure at the start";
  outer Oil oil "Oil of the circuit";
  OilPort port "Openings" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Pressure p(displayUnit="bar", start=p_start, stateSelect=StateSelect.prefer) "Pressure above the surroundings";
  Volume V_free(displayUnit="cm3") "What it holds, as volume at ambient pressure";
equation
  assert(V > 0, "a chamber needs a volume V");
  port.p = p;
  V_free = V/relative_volume(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  V*capacity(p, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)*der(p) = port.q;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, radius=20),
      Text(extent={{-50,30},{50,-30}}, textString="V"),
      Line(points={{0,-60},{0,-100}}, color={70,76,138}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{16,-108},{186,-142}}, textString="%V")}),
    Documentation(info="<html><p>Mass balance: <i>d(V/v(p))/dt = Σ q</i>, v the relative volume of oil with air; without air <i>dp/dt = K/V Σ q</i>.</p></html>"),
    __Movrel(synonyms={"volume", "capacitance", "compressibility", "oil spring", "manifold"}, source="Merritt, Hydraulic Control Systems, 1967, chapter 3"));
end Chamber;
