within Movrel.Process;
model Overflow "Tank with an edge over which liquid runs"
  import Movrel.Units.*;
  parameter Area area(min=1e-9) = 1 "Area of the surface";
  parameter Length edge(min=0) = 1 "Height of the edge";
  parameter Length width(min=1e-9) = 0.5 "Width of the edge";
  parameter Ratio C_d(min=1e-6) = 0.6 "Discharge coefficient";
  parameter Length level_start(min=0) = 0 "Level at the start";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  Length level(start=level_start, fixed=true) "Level";
  VolumeFlowRate q_over(displayUnit="l/s") "Flow over the edge";
  LiquidPort inlet "Opening above the surface" annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
  LiquidPort outlet "Opening at the floor" annotation (Placement(transformation(extent={{90,-90},{110,-70}})));
  LiquidPort over "What runs over" annotation (Placement(transformation(extent={{90,30},{110,50}})));
equation
  assert(level > -1e-6, "the level fell below the floor: something draws from an empty tank");
  area*der(level) = inlet.q + outlet.q + over.q;
  q_over = if level > edge then 2/3*C_d*width*sqrt(2*g_n)*(level - edge)^1.5 else 0;
  over.q = -q_over;
  inlet.p = 0;
  outlet.p = rho*g_n*level;
  annotation (
    Icon(graphics={
      Rectangle(extent=DynamicSelect({{-88,0},{88,-98}}, {{-88,-98 + 190*level/(1.3*edge)},{88,-98}}), lineColor={38,106,118}, pattern=LinePattern.None, fillColor={170,205,210}, fillPattern=FillPattern.Solid),
      Line(points={{-90,100},{-90,-100},{90,-100},{90,40}}, color={40,44,60}, thickness=0.5),
      Line(points={{90,40},{100,40},{100,20}}, color={38,106,118}, thickness=0.5),
      Line(points={{-100,60},{-60,60},{-60,44}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%edge")}),
    Documentation(info="<html><p>Poleni: <i>q = 2/3 C_d b √(2 g) (level - edge)^(3/2)</i></p></html>"),
    __Movrel(synonyms={"weir", "spillway", "Poleni"}, source="Bollrich, Technische Hydromechanik"));
end Overflow;
