within Movrel.Rotational;
model Gear "Gear with a fixed ratio, without losses"
  import Movrel.Units.*;
  parameter Ratio i = 2 "Ratio: turns of a for one turn of b";
  Shaft a "Shaft end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft b "Other shaft end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
equation
  assert(abs(i) > 1e-12, "the ratio must not be zero");
  a.phi = i*b.phi;
  b.tau = -i*a.tau;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-30,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-50,40},{-10,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent={{10,80},{50,-80}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{30,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="i = %i")}),
    Documentation(info="<html><p><i>phi_a = i phi_b</i>, <i>tau_b = -i tau_a</i></p></html>"),
    __Movrel(synonyms={"gearbox", "reduction", "transmission"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end Gear;
