within Movrel.Signals;
block NumberDisplay "Shows a number on the sheet"
  import Movrel.Units.*;
  parameter Integer digits(min=1, max=15) = 4 "Significant digits";
  SignalIn u "What it shows" annotation (Placement(transformation(extent={{-120,-10},{-100,10}})));
  Real shown "What it shows";
equation
  shown = u;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-100,40},{100,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-90,30},{90,-30}}, textString=DynamicSelect("0.0", String(u, significantDigits=digits))),
      Text(extent={{-150,90},{150,50}}, textString="%name")}),
    Documentation(info="<html><p><i>shown = u</i>; on the sheet it stands for the time of the cursor.</p></html>"),
    __Movrel(synonyms={"display", "indicator", "readout"}, source="Definition"));
end NumberDisplay;
