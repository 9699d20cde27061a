within Movrel.Electrical;
model InterleavedBoost "Boost converter of N interleaved phases"
  import Movrel.Units.*;
  parameter Integer N(min=1) = 2 "Number of phases";
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
  Current i_in "Current into the input";
  Inductor coil[N](each L=L) "Coils";
  Resistor winding[N](each R=R_L) "Their resistances";
  BridgeLeg leg[N](each R_on=R_on, each G_off=G_off) "Half bridges";
  PwmGenerator pwm[N](each f=f, shift={(k - 1)/N for k in 1:N}) "Carriers, shifted evenly";
equation
  for k in 1:N loop
    connect(a, coil[k].a);
    connect(coil[k].b, winding[k].a);
    connect(winding[k].b, leg[k].mid);
    connect(leg[k].plus, b);
    connect(leg[k].minus, m);
    pwm[k].duty = duty;
    leg[k].low = pwm[k].high;
    leg[k].high = false;
    i[k] = coil[k].i;
  end for;
  i_in = a.i;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-90,90},{90,-90}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points=DynamicSelect({{-78,57.5},{-70,65.5},{-62,57.5},{-54,65.5},{-46,57.5},{-38,65.5},{-30,57.5},{-14,57.5}}, {{-78,85 - 55/N},{-70,85 - 55/N + 8},{-62,85 - 55/N},{-54,85 - 55/N + 8},{-46,85 - 55/N},{-38,85 - 55/N + 8},{-30,85 - 55/N},{-14,85 - 55/N}}), color={40,44,60}),
      Line(points=DynamicSelect({{-78,2.5},{-70,10.5},{-62,2.5},{-54,10.5},{-46,2.5},{-38,10.5},{-30,2.5},{-14,2.5}}, if N >= 2 then {{-78,85 - 165/N},{-70,85 - 165/N + 8},{-62,85 - 165/N},{-54,85 - 165/N + 8},{-46,85 - 165/N},{-38,85 - 165/N + 8},{-30,85 - 165/N},{-14,85 - 165/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,30},{-14,30}}, if N >= 3 then {{-78,85 - 275/N},{-70,85 - 275/N + 8},{-62,85 - 275/N},{-54,85 - 275/N + 8},{-46,85 - 275/N},{-38,85 - 275/N + 8},{-30,85 - 275/N},{-14,85 - 275/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,30},{-14,30}}, if N >= 4 then {{-78,85 - 385/N},{-70,85 - 385/N + 8},{-62,85 - 385/N},{-54,85 - 385/N + 8},{-46,85 - 385/N},{-38,85 - 385/N + 8},{-30,85 - 385/N},{-14,85 - 385/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,30},{-14,30}}, if N >= 5 then {{-78,85 - 495/N},{-70,85 - 495/N + 8},{-62,85 - 495/N},{-54,85 - 495/N + 8},{-46,85 - 495/N},{-38,85 - 495/N + 8},{-30,85 - 495/N},{-14,85 - 495/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,30},{-14,30}}, if N >= 6 then {{-78,85 - 605/N},{-70,85 - 605/N + 8},{-62,85 - 605/N},{-54,85 - 605/N + 8},{-46,85 - 605/N},{-38,85 - 605/N + 8},{-30,85 - 605/N},{-14,85 - 605/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,30},{-14,30}}, if N >= 7 then {{-78,85 - 715/N},{-70,85 - 715/N + 8},{-62,85 - 715/N},{-54,85 - 715/N + 8},{-46,85 - 715/N},{-38,85 - 715/N + 8},{-30,85 - 715/N},{-14,85 - 715/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,30},{-14,30}}, if N >= 8 then {{-78,85 - 825/N},{-70,85 - 825/N + 8},{-62,85 - 825/N},{-54,85 - 825/N + 8},{-46,85 - 825/N},{-38,85 - 825/N + 8},{-30,85 - 825/N},{-14,85 - 825/N}} else {{-14,30},{-14,30}}), color={40,44,60}),
      Line(points=DynamicSelect({{-14,57.5},{-14,2.5}}, {{-14,50},{-14,85 - 55/N},{-14,85 - 110*(N - 0.5)/N}}), color={40,44,60}),
      Line(points={{-14,50},{20,50}}, color={40,44,60}),
      Polygon(points={{20,62},{20,38},{44,50},{20,62}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{44,62},{44,38}}, color={40,44,60}),
      Line(points={{44,50},{90,50}}, color={40,44,60}),
      Line(points={{4,50},{4,14},{-8,-14}}, color={40,44,60}),
      Line(points={{4,-20},{4,-90}}, color={40,44,60}),
      Text(extent={{-85,-40},{-10,-80}}, textString="N = %N"),
      Text(extent={{-150,150},{150,110}}, textString="%name")}),
    Documentation(info="<html><p>Each phase: a coil to the middle of a half bridge whose lower switch is driven; the carriers are shifted by <i>1/N</i> of the period, so that the ripples of the sum cancel at duties <i>k/N</i></p></html>"),
    __Movrel(synonyms={"multiphase", "DC-DC", "step-up", "lamp supply"}, source="Mohan, Undeland and Robbins, Power Electronics, 3rd ed. 2003, section 7-4"));
end InterleavedBoost;
