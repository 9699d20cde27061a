within Movrel.Signals;
connector LogicOut = output Boolean "Boolean signal, sent"
  annotation (
    Icon(graphics={Polygon(points={{-100,100},{100,0},{-100,-100},{-100,100}}, lineColor={40,44,60})}),
    __Movrel(domain="boolean"));
