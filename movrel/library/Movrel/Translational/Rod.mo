within Movrel.Translational;
connector Rod "End of a rod"
  import Movrel.Units.*;
  Length s "Position";
  flow Force f "Force into the part";
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,100},{100,-100}}, lineColor={84,88,40}, fillColor={84,88,40}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="translational"));
end Rod;
