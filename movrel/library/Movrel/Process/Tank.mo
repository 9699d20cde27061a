within Movrel.Process;
model Tank "Open tank of any shape, by a table of its cross-section"
  import Movrel.Units.*;
  parameter Real shape[:, 2] = [0, 1; 2, 1] "Height in m and area of the surface in m2, from the floor to the brim";
  parameter Length level_start(min=0) = 0 "Level at the start";
  parameter Density rho(min=1e-9) = 1000 "Density of the liquid";
  final parameter Length height = shape[size(shape, 1), 1] "Height of the brim";
  Length level(start=level_start, fixed=true, min=0) "Height of the surface above the floor";
  Area area "Area of the surface";
  Volume V "Liquid in the tank";
  LiquidPort inlet "Opening above the surface" annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
  LiquidPort outlet "Opening at the floor" annotation (Placement(transformation(extent={{90,-90},{110,-70}})));
equation
  assert(shape[1, 1] == 0, "the table of the shape must begin at height 0");
  assert(min(shape[:, 2]) > 0, "every area in the table of the shape must be positive");
  assert(level > -1e-6, "the level fell below the floor: something draws from an empty tank");
  assert(level < height + 1e-3, "the tank runs over; take an overflow");
  area = Movrel.Tables.linear(shape, level);
  area*der(level) = inlet.q + outlet.q;
  V = sum(
    (min(max(level, shape[k, 1]), shape[k + 1, 1]) - shape[k, 1])*(shape[k, 2] + (shape[k + 1, 2] - shape[k, 2])
      *(min(max(level, shape[k, 1]), shape[k + 1, 1]) - shape[k, 1])/(2*(shape[k + 1, 1] - shape[k, 1])))
    for k in 1:size(shape, 1) - 1);
  inlet.p = 0;
  outlet.p = rho*g_n*level;
  annotation (
    Icon(graphics={
      Rectangle(extent=DynamicSelect({{-88,0},{88,-98}}, {{-88,-98 + 190*level/height},{88,-98}}), lineColor={38,106,118}, pattern=LinePattern.None, fillColor={170,205,210}, fillPattern=FillPattern.Solid),
      Line(points={{-90,100},{-90,-100},{90,-100},{90,100}}, color={40,44,60}, thickness=0.5),
      Line(points={{-100,60},{-60,60},{-60,44}}, color={38,106,118}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p><i>A(level) dlevel/dt = Σ q</i>, <i>p = ρ g level</i></p></html>"),
    __Movrel(synonyms={"vessel", "reservoir", "silo", "cone", "volume table"}, source="Volume balance; symbol ISO 14617"));
end Tank;
