within Movrel.Rotational;
model PlanetarySet "Planetary gear set with sun, carrier and ring"
  import Movrel.Units.*;
  parameter Ratio z(min=1) = 2 "Teeth of the ring over teeth of the sun";
  Shaft sun "Sun" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft carrier "Planet carrier" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Shaft ring "Ring" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
equation
  (1 + z)*carrier.phi = sun.phi + z*ring.phi;
  ring.tau = z*sun.tau;
  carrier.tau = -(1 + z)*sun.tau;
  annotation (
    Icon(graphics={
      Ellipse(extent={{-80,80},{80,-80}}, lineColor={40,44,60}),
      Ellipse(extent={{-26,26},{26,-26}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-20,74},{20,34}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-70,-6},{-30,-46}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{30,-6},{70,-46}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-26,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{50,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,100},{0,80}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-190,150},{-20,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="z = %z")}),
    Documentation(info="<html><p>Willis: <i>(1 + z) phi_carrier = phi_sun + z phi_ring</i>; torques without losses</p></html>"),
    __Movrel(synonyms={"epicyclic", "Willis", "sun", "carrier", "ring"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end PlanetarySet;
