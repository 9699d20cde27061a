within Movrel.Electrical;
model InterleavedBuck "Buck converter of N interleaved phases"
  import Movrel.Units.*;
  parameter Integer N(min=1) = 2 "Number of phases" annotation (Evaluate=true);
  parameter Frequency f(min=1) = 100e3 "Switching frequency";
  parameter Inductance L(min=1e-12) = 22e-6 "Inductance of a phase";
  parameter Resistance R_L(min=0) = 5e-3 "Resistance of a phase";
  parameter Resistance R_on(min=1e-9) = 5e-3 "Resistance of a switch or diode that conducts";
  parameter Conductance G_off(min=1e-15) = 1e-6 "Conductance while blocking";
  Terminal a "Input, positive" annotation (Placement(transformation(extent={{-110,40},{-90,60}})));
  Terminal m "Common negative" annotation (Placement(transformation(extent={{-10,-110},{10,-90}})));
  Terminal b "Output, positive" annotation (Placement(transformation(extent={{90,40},{110,60}})));
  Movrel.Signals.SignalIn duty "Part of the period that the switches are on" annotation (Placement(transformation(extent={{-120,-60},{-100,-40}})));
  Movrel.Signals.SignalOut i[N](each unit="A") "Currents of the phases" annotation (Placement(transformation(extent={{100,-60},{120,-40}})));
  Current i_out "Current out of the output";
  Inductor coil[N](each L=L) "Coils";
  Resistor winding[N](each R=R_L) "Their resistances";
  BridgeLeg leg[N](each R_on=R_on, each G_off=G_off) "Half bridges";
  PwmGenerator pwm[N](each f=f, shift={(k - 1)/N for k in 1:N}) "Carriers, shifted evenly";
equation
  for k in 1:N loop
    connect(a, leg[k].plus);
    connect(leg[k].minus, m);
    connect(leg[k].mid, coil[k].a);
    connect(coil[k].b, winding[k].a);
    connect(winding[k].b, b);
    pwm[k].duty = duty;
    leg[k].high = pwm[k].high;
    leg[k].low = false;
    i[k] = coil[k].i;
  end for;
  i_out = -b.i;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,90},{90,-90}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-90,50},{-50,50}}, color={40,44,60}),
      Line(points={{-50,50},{-24,66}}, color={40,44,60}, thickness=0.5),
      Line(points={{-24,50},{0,50}}, color={40,44,60}),
      Line(points={{0,50},{8,62},{16,50},{24,62},{32,50},{40,62},{48,50},{90,50}}, color={40,44,60}),
      Line(points={{-14,50},{-14,14}}, color={40,44,60}),
      Polygon(points={{-28,-10},{0,-10},{-14,14},{-28,-10}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-28,14},{0,14}}, color={40,44,60}),
      Line(points={{-14,-10},{-14,-40},{0,-40},{0,-90}}, color={40,44,60}),
      Text(extent={{-85,-40},{-10,-80}}, textString="N = %N"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Each phase: a half bridge whose upper switch is driven, and a coil to the output; the carriers are shifted by <i>1/N</i> of the period. The mean of the output is the duty times the input</p></html>"),
    __Movrel(synonyms={"multiphase", "DC-DC", "step-down", "point of load"}, source="Mohan, Undeland and Robbins, Power Electronics, 3rd ed. 2003, section 7-3"));
end InterleavedBuck;
