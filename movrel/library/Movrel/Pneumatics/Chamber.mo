within Movrel.Pneumatics;
model Chamber "Tank or volume of gas"
  import Movrel.Units.*;
  extends GasSpace;
  parameter Volume V_0(displayUnit="l", min=1e-15) = 1e-3 "Volume";
  GasPort a "Opening" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  GasPort b "Opening" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  GasPort c "Opening" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
equation
  assert(V_0 > 0, "a chamber needs a volume V_0");
  V = V_0;
  growth = 0;
  a.p = p;
  b.p = p;
  c.p = p;
  a.h = gas.c_p*T;
  b.h = gas.c_p*T;
  c.h = gas.c_p*T;
  m_in = a.m + b.m + c.m;
  H_in = max(a.m, 0)*inStream(a.h) + max(b.m, 0)*inStream(b.h) + max(c.m, 0)*inStream(c.h)
    + (min(a.m, 0) + min(b.m, 0) + min(c.m, 0))*gas.c_p*T;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-70,40},{70,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid, radius=40),
      Text(extent={{-50,22},{50,-22}}, textString="V"),
      Line(points={{-100,0},{-70,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{70,0},{100,0}}, color={56,104,136}, thickness=0.5),
      Line(points={{0,-40},{0,-100}}, color={56,104,136}, thickness=0.5),
      Text(extent={{-150,90},{150,50}}, textString="%name"),
      Text(extent={{16,-60},{186,-94}}, textString="%V_0")}),
    Documentation(info="<html><p><i>dm/dt = Σ m</i>, <i>d(m c_v T)/dt = Σ m h + Q</i>, <i>p V = m R_s T</i>. Without heat from the wall a change is adiabatic, with much of it isothermal.</p></html>"),
    __Movrel(synonyms={"tank", "receiver", "reservoir", "volume", "vessel"}, source="Beater, Pneumatic Drives, 2007, chapter 4; symbol ISO 1219-1"));
end Chamber;
