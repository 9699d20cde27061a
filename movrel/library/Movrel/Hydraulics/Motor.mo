within Movrel.Hydraulics;
model Motor "Hydraulic motor of fixed displacement"
  import Movrel.Units.*;
  extends DisplacementUnit;
equation
  swivel = 1;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{-18,-60},{18,-60},{0,-28},{-18,-60}}, lineColor={40,44,60}, fillColor={70,76,138}, fillPattern=FillPattern.Solid),
      Line(points={{0,60},{0,100}}, color={70,76,138}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{-100,6},{-60,6}}, color={40,44,60}),
      Line(points={{-100,-6},{-60,-6}}, color={40,44,60}),
      Text(extent={{66,-64},{280,-100}}, textString="%name", horizontalAlignment=TextAlignment.Left),
      Text(extent={{66,40},{280,6}}, textString="%D", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>q = D n - leakage</i>, <i>τ = D Δp/(2π) + friction</i>. Leakage and friction follow from the efficiencies at the rated point, and change with viscosity, speed and pressure. It works in all four quadrants.</p></html>"),
    __Movrel(synonyms={"orbital motor", "gear motor", "swing drive"}, source="Wilson, Positive-Displacement Pumps and Fluid Motors, 1950; symbol ISO 1219-1"));
end Motor;
