within Movrel.Electrical;
model OpAmp "Operational amplifier with finite gain, bandwidth, slew rate and supply"
  import Movrel.Units.*;
  parameter Real A_0(min=1) = 1e5 "Open-loop gain at low frequency";
  parameter Frequency GBW(min=1e-3) = 1e6 "Gain-bandwidth product";
  parameter Voltage V_plus = 15 "Highest output";
  parameter Voltage V_minus = -15 "Lowest output";
  parameter Real slew(unit="V/s", min=1e-6) = 1e6 "Fastest change of the output";
  parameter Resistance R_in(min=1) = 1e6 "Input resistance";
  parameter Resistance R_out(min=0) = 75 "Output resistance";
  parameter Voltage V_os = 0 "Offset voltage";
  Terminal p "Non-inverting input" annotation (Placement(transformation(extent={{-110,-60},{-90,-40}})));
  Terminal n "Inverting input" annotation (Placement(transformation(extent={{-110,40},{-90,60}})));
  Terminal out "Output" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Voltage v_d "Voltage between the inputs, with offset";
  Voltage x(start=0, fixed=true) "Inner output voltage";
protected
  Real rate(unit="V/s") "Change that the inputs ask for";
equation
  assert(V_plus > V_minus, "V_plus must be above V_minus");
  v_d = p.v - n.v + V_os;
  p.i = (p.v - n.v)/R_in;
  n.i = -p.i;
  rate = 2*pi*GBW*v_d - 2*pi*GBW/A_0*x;
  der(x) = if x >= V_plus and rate > 0 or x <= V_minus and rate < 0 then 0
    elseif rate > slew then slew elseif rate < -slew then -slew else rate;
  out.v = x + R_out*out.i;
  annotation (
    Icon(graphics={
      Polygon(points={{-80,90},{-80,-90},{90,0},{-80,90}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-100,50},{-80,50}}, color={40,44,60}),
      Line(points={{-100,-50},{-80,-50}}, color={40,44,60}),
      Line(points={{90,0},{100,0}}, color={40,44,60}),
      Text(extent={{-76,66},{-40,34}}, textString="−"),
      Text(extent={{-76,-34},{-40,-66}}, textString="+"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%GBW")}),
    Documentation(info="<html><p><i>dx/dt = 2 π GBW (v_d - x/A_0)</i>, no faster than the slew rate, between the supplies; <i>v_out = x + R_out i_out</i></p></html>"),
    __Movrel(synonyms={"operational amplifier", "gain-bandwidth", "slew rate", "saturation"}, source="Tietze and Schenk, Halbleiter-Schaltungstechnik"));
end OpAmp;
