within Movrel.Signals;
connector SignalOut = output Real "Real signal, given"
  annotation (
    Icon(graphics={Polygon(points={{-100,100},{100,0},{-100,-100},{-100,100}}, lineColor={40,44,60})}),
    __Movrel(domain="signal"));
