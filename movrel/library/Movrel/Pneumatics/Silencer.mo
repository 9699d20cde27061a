within Movrel.Pneumatics;
model Silencer "Silencer: lets gas out into the open"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 3e-8 "Sonic conductance";
  parameter Ratio b_c(min=0, max=0.99) = 0.4 "Critical pressure ratio";
  GasPort a "Inlet" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  MassFlowRate m(displayUnit="g/s") "Flow out";
  Mass vented(start=0, fixed=true, min=-1e60) "What has flowed out";
equation
  a.m = m;
  a.h = gas.c_p*gas.T_ambient;
  m = sonic_flow(a.p, gas.p_ambient, if noEvent(a.p > gas.p_ambient) then inStream(a.h)/gas.c_p else gas.T_ambient, C, b_c, gas.rho_0);
  der(vented) = m;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-50,0}}, color={56,104,136}, thickness=0.5),
      Rectangle(extent={{-50,26},{30,-26}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-30,26},{-30,-26}}, color={40,44,60}),
      Line(points={{-10,26},{-10,-26}}, color={40,44,60}),
      Line(points={{10,26},{10,-26}}, color={40,44,60}),
      Polygon(points={{40,14},{40,-14},{66,0},{40,14}}, lineColor={40,44,60}),
      Text(extent={{-150,90},{150,50}}, textString="%name")}),
    Documentation(info="<html><p>A restriction to the surroundings.</p></html>"),
    __Movrel(synonyms={"muffler", "exhaust", "vent"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Silencer;
