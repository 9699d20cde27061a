within Movrel.Electrical;
model IdealTransformer "Transformer without losses or magnetising current"
  import Movrel.Units.*;
  parameter Ratio n = 1 "Turns of winding 1 over turns of winding 2";
  Terminal a1 "Winding 1, positive" annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
  Terminal b1 "Winding 1, negative" annotation (Placement(transformation(extent={{-110,-70},{-90,-50}})));
  Terminal a2 "Winding 2, positive" annotation (Placement(transformation(extent={{90,50},{110,70}})));
  Terminal b2 "Winding 2, negative" annotation (Placement(transformation(extent={{90,-70},{110,-50}})));
  Voltage v1 "Voltage of winding 1";
  Voltage v2 "Voltage of winding 2";
  Current i1 "Current into winding 1";
  Current i2 "Current into winding 2";
equation
  assert(abs(n) > 1e-12, "the ratio of the turns must not be zero");
  v1 = a1.v - b1.v;
  v2 = a2.v - b2.v;
  i1 = a1.i;
  i2 = a2.i;
  a1.i + b1.i = 0;
  a2.i + b2.i = 0;
  v1 = n*v2;
  i2 = -n*i1;
  annotation (
    Icon(graphics={
      Line(points={{-100,60},{-40,60}}, color={40,44,60}),
      Line(points={{-100,-60},{-40,-60}}, color={40,44,60}),
      Line(points={{100,60},{40,60}}, color={40,44,60}),
      Line(points={{100,-60},{40,-60}}, color={40,44,60}),
      Line(points={{-40,60},{-22,52},{-16,40},{-22,28},{-40,20},{-22,12},{-16,0},{-22,-12},{-40,-20},{-22,-28},{-16,-40},{-22,-52},{-40,-60}}, color={40,44,60}, thickness=0.25),
      Line(points={{40,60},{22,52},{16,40},{22,28},{40,20},{22,12},{16,0},{22,-12},{40,-20},{22,-28},{16,-40},{22,-52},{40,-60}}, color={40,44,60}, thickness=0.25),
      Line(points={{-4,64},{-4,-64}}, color={40,44,60}, thickness=0.25),
      Line(points={{4,64},{4,-64}}, color={40,44,60}, thickness=0.25),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%n : 1")}),
    Documentation(info="<html><p><i>v1 = n v2</i>, <i>i2 = -n i1</i></p></html>"),
    __Movrel(synonyms={"turns ratio", "isolation"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end IdealTransformer;
