within Movrel.Signals;
connector CountOut = output Integer "Whole number, given"
  annotation (
    Icon(graphics={Polygon(points={{-100,100},{100,0},{-100,-100},{-100,100}}, lineColor={40,44,60})}),
    __Movrel(domain="signal"));
