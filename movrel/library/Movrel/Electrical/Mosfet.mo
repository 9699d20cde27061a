within Movrel.Electrical;
model Mosfet "MOSFET as a switch with losses and its body diode"
  import Movrel.Units.*;
  extends TwoTerminals;
  extends Movrel.Thermal.Dissipation;
  parameter Resistance R_on(min=1e-9) = 10e-3 "Resistance while it is on";
  parameter Voltage V_f(min=0) = 0.8 "Forward voltage of the body diode";
  parameter Resistance R_d(min=1e-9) = 5e-3 "Slope resistance of the body diode";
  parameter Conductance G_off(min=1e-15) = 1e-6 "Conductance while blocking";
  parameter Energy E_on = 0 "Energy lost on switching on, at V_ref and I_ref" annotation (Dialog(group="Switching"));
  parameter Energy E_off = 0 "Energy lost on switching off, at V_ref and I_ref" annotation (Dialog(group="Switching"));
  parameter Voltage V_ref = 400 "Voltage of the datasheet" annotation (Dialog(group="Switching"));
  parameter Current I_ref = 20 "Current of the datasheet" annotation (Dialog(group="Switching"));
  Movrel.Signals.LogicIn gate "Switched on while true" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Boolean diode(start=false) "Whether the body diode conducts";
  Real s "Along the characteristic";
  discrete Energy E_switched(start=0, fixed=true) "Energy lost by switching so far";
equation
  diode = s < 0;
  v = s*(if diode and not gate then R_d else 1) - V_f;
  i = if gate then (s - V_f)/R_on elseif diode then s - G_off*V_f else G_off*(s - V_f);
  loss = v*i;
  when gate then
    E_switched = pre(E_switched) + E_on*abs(pre(v)*i)/(V_ref*I_ref);
  elsewhen not gate then
    E_switched = pre(E_switched) + E_off*abs(v*pre(i))/(V_ref*I_ref);
  end when;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-40,0},{-40,20}}, color={40,44,60}),
      Line(points={{100,0},{40,0},{40,20}}, color={40,44,60}),
      Line(points={{-50,20},{50,20}}, color={40,44,60}, thickness=0.5),
      Line(points={{-50,34},{50,34}}, color={40,44,60}),
      Polygon(points={{-14,-40},{14,-26},{14,-54},{-14,-40}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-14,-24},{-14,-56}}, color={40,44,60}),
      Line(points={{-40,0},{-40,-40},{40,-40},{40,0}}, color={40,44,60}),
      Line(points={{0,100},{-40,60}}, color={40,44,60}, pattern=LinePattern.Dash),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p>On: <i>v = R_on i</i>, both ways. Off: it blocks forwards, backwards the body diode conducts from <i>V_f</i> on with <i>R_d</i>. Switching energies are scaled with voltage and current</p></html>"),
    __Movrel(synonyms={"transistor", "FET", "power switch"}, source="Mohan, Undeland and Robbins, Power Electronics, 3rd ed. 2003; symbol IEC 60617"));
end Mosfet;
