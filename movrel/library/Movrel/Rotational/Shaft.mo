within Movrel.Rotational;
connector Shaft "Shaft end"
  Movrel.Units.Angle phi "Angle";
  flow Movrel.Units.Torque tau "Torque into the part";
  annotation (
    Icon(graphics={Ellipse(extent={{-100,100},{100,-100}}, lineColor={84,88,40}, fillColor={84,88,40}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="rotational"));
end Shaft;
