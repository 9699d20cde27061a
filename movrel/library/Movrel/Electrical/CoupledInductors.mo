within Movrel.Electrical;
model CoupledInductors "Two coils that share a magnetic field"
  import Movrel.Units.*;
  parameter Inductance L1(min=1e-15) = 1e-3 "Inductance of winding 1";
  parameter Inductance L2(min=1e-15) = 1e-3 "Inductance of winding 2";
  parameter Ratio k(min=0, max=1) = 0.9 "Coupling";
  final parameter Inductance M = k*sqrt(L1*L2) "Mutual inductance";
  Terminal a1 "Winding 1, positive" annotation (Placement(transformation(extent={{-110,50},{-90,70}})));
  Terminal b1 "Winding 1, negative" annotation (Placement(transformation(extent={{-110,-70},{-90,-50}})));
  Terminal a2 "Winding 2, positive" annotation (Placement(transformation(extent={{90,50},{110,70}})));
  Terminal b2 "Winding 2, negative" annotation (Placement(transformation(extent={{90,-70},{110,-50}})));
  Voltage v1 "Voltage of winding 1";
  Voltage v2 "Voltage of winding 2";
  Current i1 "Current into winding 1";
  Current i2 "Current into winding 2";
initial equation
  i1 = 0;
  i2 = 0;
equation
  assert(k < 1, "the coupling must be below 1; take an ideal transformer for 1");
  v1 = a1.v - b1.v;
  v2 = a2.v - b2.v;
  i1 = a1.i;
  i2 = a2.i;
  a1.i + b1.i = 0;
  a2.i + b2.i = 0;
  v1 = L1*der(i1) + M*der(i2);
  v2 = M*der(i1) + L2*der(i2);
  annotation (
    Icon(graphics={
      Line(points={{-100,60},{-40,60}}, color={40,44,60}),
      Line(points={{-100,-60},{-40,-60}}, color={40,44,60}),
      Line(points={{100,60},{40,60}}, color={40,44,60}),
      Line(points={{100,-60},{40,-60}}, color={40,44,60}),
      Line(points={{-40,60},{-22,52},{-16,40},{-22,28},{-40,20},{-22,12},{-16,0},{-22,-12},{-40,-20},{-22,-28},{-16,-40},{-22,-52},{-40,-60}}, color={40,44,60}, thickness=0.25),
      Line(points={{40,60},{22,52},{16,40},{22,28},{40,20},{22,12},{16,0},{22,-12},{40,-20},{22,-28},{16,-40},{22,-52},{40,-60}}, color={40,44,60}, thickness=0.25),
      Text(extent={{-30,100},{30,70}}, textString="k"),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="k = %k")}),
    Documentation(info="<html><p><i>v1 = L1 di1/dt + M di2/dt</i>, <i>v2 = M di1/dt + L2 di2/dt</i>, <i>M = k √(L1 L2)</i></p></html>"),
    __Movrel(synonyms={"mutual inductance", "coupling", "wireless"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end CoupledInductors;
