within Movrel.Pneumatics;
model Atmosphere "The air around: takes and gives any flow"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  GasPort port "Opening" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Mass vented(nominal=1e-3, start=0, fixed=true, min=-1e60) "What has flowed out into it";
equation
  port.p = gas.p_ambient;
  port.h = gas.c_p*gas.T_ambient;
  der(vented) = port.m;
  annotation (
    Icon(graphics={
      Line(points={{0,100},{0,20}}, color={56,104,136}, thickness=0.5),
      Polygon(points={{-30,20},{30,20},{0,-30},{-30,20}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-150,-40},{150,-80}}, textString="%name")}),
    Documentation(info="<html><p>Pressure and temperature of the surroundings; it counts what has flowed out.</p></html>"),
    __Movrel(synonyms={"exhaust", "ambient", "vent"}, source="Definition; symbol ISO 1219-1"));
end Atmosphere;
