within Movrel.Hydraulics;
model DrivenMotor "Hydraulic motor whose displacement a signal sets"
  import Movrel.Units.*;
  extends DisplacementUnit;
  Movrel.Signals.SignalIn x "Displacement over the full one, -1 to 1" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
equation
  swivel = min(max(x, -1), 1);
  annotation (
    Icon(graphics={
      Ellipse(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Polygon(points={{-18,-60},{18,-60},{0,-28},{-18,-60}}, lineColor={40,44,60}, fillColor={70,76,138}, fillPattern=FillPattern.Solid),
      Line(points={{0,60},{0,100}}, color={70,76,138}, thickness=0.5),
      Line(points={{0,-60},{0,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{-100,6},{-60,6}}, color={40,44,60}),
      Line(points={{-100,-6},{-60,-6}}, color={40,44,60}),
      Line(points={{-70,-80},{70,80}}, color={40,44,60}, arrow={Arrow.None,Arrow.Filled}),
      Text(extent={{66,-64},{280,-100}}, textString="%name", horizontalAlignment=TextAlignment.Left),
      Text(extent={{66,40},{280,6}}, textString="%D", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p><i>q = x D n - leakage</i>, <i>τ = x D Δp/(2π) + friction</i>, x the signal. Leakage and friction follow from the efficiencies at the rated point, and change with viscosity, speed and pressure. It works in all four quadrants.</p></html>"),
    __Movrel(synonyms={"variable motor", "axial piston motor", "hydrostatic drive"}, source="Wilson, Positive-Displacement Pumps and Fluid Motors, 1950; symbol ISO 1219-1"));
end DrivenMotor;
