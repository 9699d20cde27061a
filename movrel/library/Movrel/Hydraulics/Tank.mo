within Movrel.Hydraulics;
model Tank "Open tank from which a circuit draws and to which it returns"
  import Movrel.Units.*;
  parameter Volume V_start(displayUnit="l") = 0.1 "Oil in it at the start";
  parameter Pressure p_0(displayUnit="bar") = 0 "Pressure in it above the surroundings";
  OilPort port "Opening below the surface" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Volume V(displayUnit="l", start=V_start, fixed=true) "Oil in it, as volume at ambient pressure";
equation
  assert(V >= 0, "the tank is empty", AssertionLevel.warning);
  der(V) = port.q;
  port.p = p_0;
  annotation (
    Icon(graphics={
      Line(points={{0,100},{0,10}}, color={70,76,138}, thickness=0.5),
      Line(points={{-50,30},{-50,-30},{50,-30},{50,30}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-40},{150,-80}}, textString="%name")}),
    Documentation(info="<html><p><i>p</i> is given, <i>dV/dt = q</i>: it counts what has been drawn and returned.</p></html>"),
    __Movrel(synonyms={"reservoir", "sump", "return"}, source="Definition; symbol ISO 1219-1"));
end Tank;
