within Movrel.Signals;
connector LogicIn = input Boolean "Boolean signal, received"
  annotation (
    Icon(graphics={Polygon(points={{-100,100},{100,0},{-100,-100},{-100,100}}, lineColor={40,44,60})}),
    __Movrel(domain="boolean"));
