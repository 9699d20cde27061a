within Movrel.Process;
model Basin "Open basin with vertical walls"
  import Movrel.Units.*;
  parameter Area area(min=1e-9) = 1 "Area of the water surface";
  parameter Length level_start(min=0) = 0 "Level at the start";
  parameter Length height(min=1e-9) = 2 "Height of the wall; the sheet draws the level against it";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  Length level(start=level_start, fixed=true, min=0) "Height of the surface above the floor";
  VolumeFlowRate q_in(displayUnit="l/s") "Flow that comes in from above";
  VolumeFlowRate q_out(displayUnit="l/s") "Flow that leaves at the floor";
  Volume volume "Liquid in the basin";
  LiquidPort inlet "Opening above the surface" annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
  LiquidPort outlet "Opening at the floor" annotation (Placement(transformation(extent={{90,-90},{110,-70}})));
equation
  q_in = inlet.q;
  q_out = -outlet.q;
  area*der(level) = q_in - q_out;
  volume = area*level;
  inlet.p = 0;
  outlet.p = rho*g_n*level;
  assert(level > -1e-6, "The level fell below the floor: something draws from an empty basin");
  annotation (
    Icon(graphics={
      Rectangle(
        extent=DynamicSelect({{-90,0},{90,-100}}, {{-90,-100 + 190*level/height},{90,-100}}),
        lineColor={38,106,118}, pattern=LinePattern.None, fillColor={170,205,210}, fillPattern=FillPattern.Solid),
      Line(points={{-90,100},{-90,-100},{90,-100},{90,100}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,60},{-60,60},{-60,44}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-80,-50},{80,-86}}, textString="%area")}),
    Documentation(info="<html><p>Volume balance of an incompressible liquid:
    <i>area der(level) = q_in - q_out</i>. The pressure at the floor is hydrostatic.</p></html>"),
    __Movrel(synonyms={"tank", "sump", "reservoir", "pit"}, source="Volume balance; symbol ISO 14617"));
end Basin;
