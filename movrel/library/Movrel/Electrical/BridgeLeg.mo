within Movrel.Electrical;
model BridgeLeg "Half bridge: two switches with free-wheeling diodes"
  import Movrel.Units.*;
  parameter Resistance R_on(min=1e-9) = 5e-3 "Resistance of a switch or diode that conducts";
  parameter Voltage V_f(min=0) = 0 "Forward voltage of the diodes";
  parameter Conductance G_off(min=1e-15) = 1e-6 "Conductance while blocking";
  parameter Boolean heated = false "Has a heat port for its losses" annotation (Evaluate=true, Dialog(group="Heat"));
  Terminal plus "Positive rail" annotation (Placement(transformation(extent={{-10,90},{10,110}})));
  Terminal minus "Negative rail" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Terminal mid "Middle" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Thermal.ThermalNode heat(Q=-loss) if heated "Heat port for the losses" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Movrel.Signals.LogicIn high "Upper switch" annotation (Placement(transformation(extent={{-120,40},{-100,60}})));
  Movrel.Signals.LogicIn low "Lower switch" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  ControlledSwitch upper(R_on=R_on, G_off=G_off) "Upper switch";
  ControlledSwitch lower(R_on=R_on, G_off=G_off) "Lower switch";
  IdealDiode upper_diode(R_on=R_on, G_off=G_off, V_f=V_f) "Upper diode";
  IdealDiode lower_diode(R_on=R_on, G_off=G_off, V_f=V_f) "Lower diode";
  Power loss "Power turned to heat";
equation
  connect(upper.a, plus);
  connect(upper.b, mid);
  connect(lower.a, mid);
  connect(lower.b, minus);
  connect(upper_diode.a, mid);
  connect(upper_diode.b, plus);
  connect(lower_diode.a, minus);
  connect(lower_diode.b, mid);
  connect(high, upper.closed);
  connect(low, lower.closed);
  loss = upper.v*upper.i + lower.v*lower.i + upper_diode.loss + lower_diode.loss;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-60,80},{60,-80}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{0,100},{0,70}}, color={40,44,60}),
      Line(points={{0,70},{0,60},{-14,30}}, color={40,44,60}),
      Line(points={{0,24},{0,-6},{-14,-36}}, color={40,44,60}),
      Line(points={{0,-42},{0,-100}}, color={40,44,60}),
      Line(points={{0,9},{60,9},{60,0},{100,0}}, color={40,44,60}),
      Line(points={{30,9},{30,64},{0,64}}, color={40,44,60}, pattern=LinePattern.Dash),
      Line(points={{30,9},{30,-52},{0,-52}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,150},{-20,110}}, textString="%name")}),
    Documentation(info="<html><p>Two switches in series between the rails, a diode across each</p></html>"),
    __Movrel(synonyms={"half bridge", "inverter leg", "phase leg", "converter"}, source="Mohan, Undeland and Robbins, Power Electronics, 3rd ed. 2003"));
end BridgeLeg;
