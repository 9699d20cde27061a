within Movrel.Electrical;
connector Terminal "Electrical terminal"
  import Movrel.Units.*;
  Voltage v "Potential";
  flow Current i "Current into the part";
  annotation (
    Icon(graphics={
      Ellipse(extent={{-100,100},{100,-100}}, lineColor={112,78,34}, fillColor={112,78,34}, fillPattern=FillPattern.Solid)}),
    __Movrel(domain="electrical"));
end Terminal;
