within Movrel.Pneumatics;
model Silencer "Silencer: lets gas out into the open"
  import Movrel.Units.*;
  extends GasSpace(G=0.5);
  parameter Volume V_0(displayUnit="cm3", min=1e-12) = 2e-5 "Volume of its housing";
  parameter Real C(unit="m3/(s.Pa)", displayUnit="l/(s.bar)", min=0) = 3e-8 "Sonic conductance";
  parameter Ratio b_c(min=0, max=0.99) = 0.4 "Critical pressure ratio";
  GasPort a "Inlet" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  MassFlowRate m(displayUnit="g/s") "Flow out";
  Mass vented(nominal=1e-3, start=0, fixed=true, min=-1e60) "What has flowed out";
equation
  V = V_0;
  growth = 0;
  a.p = p;
  a.h = gas.c_p*T;
  m = sonic_flow(p, gas.p_ambient, upstream(p, gas.p_ambient, T, gas.T_ambient), C, b_c, gas.rho_0);
  m_in = a.m - m;
  H_in = max(a.m, 0)*inStream(a.h) + min(a.m, 0)*gas.c_p*T - gas.c_p*(max(m, 0)*T + min(m, 0)*gas.T_ambient);
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
    Documentation(info="<html><p>A restriction from its housing to the surroundings.</p></html>"),
    __Movrel(synonyms={"muffler", "exhaust", "vent"}, source="ISO 6358-1:2013, equations of flow; symbol ISO 1219-1"));
end Silencer;
