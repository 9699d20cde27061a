within Movrel.Electrical;
model Ground "Point of zero potential"
  Terminal a "The point" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
equation
  a.v = 0;
  annotation (
    Icon(graphics={
      Line(points={{0,100},{0,0}}, color={40,44,60}),
      Line(points={{-60,0},{60,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-38,-24},{38,-24}}, color={40,44,60}, thickness=0.5),
      Line(points={{-16,-48},{16,-48}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-60},{150,-100}}, textString="%name")}),
    Documentation(info="<html><p><i>v = 0</i>; every network needs one</p></html>"),
    __Movrel(synonyms={"earth", "reference", "mass"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Ground;
