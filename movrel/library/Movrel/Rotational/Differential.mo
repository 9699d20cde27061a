within Movrel.Rotational;
model Differential "Differential that shares a drive between two shafts"
  import Movrel.Units.*;
  parameter Ratio i = 1 "Ratio of the final drive";
  Shaft drive "Driven shaft" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Shaft left "One wheel shaft" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Shaft right "Other wheel shaft" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
equation
  assert(abs(i) > 1e-12, "the ratio must not be zero");
  drive.phi = i*(left.phi + right.phi)/2;
  left.tau = -i*drive.tau/2;
  right.tau = left.tau;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0}}, color={40,44,60}, thickness=0.5),
      Polygon(points={{-40,50},{40,50},{40,-50},{-40,-50},{-40,50}}, lineColor={40,44,60}),
      Line(points={{0,100},{0,24}}, color={40,44,60}, thickness=0.5),
      Line(points={{0,-100},{0,-24}}, color={40,44,60}, thickness=0.5),
      Line(points={{-20,24},{20,24}}, color={40,44,60}),
      Line(points={{-20,-24},{20,-24}}, color={40,44,60}),
      Text(extent={{-150,150},{20,110}}, textString="%name"),
      Text(extent={{20,-108},{150,-142}}, textString="i = %i")}),
    Documentation(info="<html><p><i>phi_drive = i (phi_left + phi_right)/2</i>; both get half of the torque</p></html>"),
    __Movrel(synonyms={"axle", "torque split"}, source="Niemann, Winter and Höhn, Maschinenelemente"));
end Differential;
