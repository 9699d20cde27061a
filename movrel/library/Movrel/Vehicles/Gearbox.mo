within Movrel.Vehicles;
model Gearbox "Gearbox with any number of ratios, shifted with interrupted torque"
  import Movrel.Units.*;
  extends Movrel.Thermal.Dissipation;
  parameter Real ratios[:] = {3.6, 2.1, 1.4, 1, 0.8} "Speed of the input over that of the output, gear by gear";
  parameter Torque tau_max(min=0) = 500 "Torque that its clutch holds, at the input";
  parameter Angle give(min=1e-9, displayUnit="deg") = 0.02 "How far clutch and shafts give at its limit, at the input";
  parameter Time t_shift(min=1e-6) = 0.4 "Time of a shift: half of it without torque, half to engage";
  Movrel.Rotational.Shaft a "Input" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Movrel.Rotational.Shaft b "Output" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Signals.CountIn gear "Gear; 0 is neutral" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  discrete Real i(start=ratios[1], fixed=true) "Ratio that is engaged";
  Ratio engaged "How far its clutch is engaged";
  AngularVelocity w_slip(displayUnit="rpm") "Speed that its clutch slips";
  Ratio strain(start=0, fixed=true) "How far clutch and shafts have given, over give: at 1 it slips";
  Torque tau "Torque at the input";
protected
  Real rate(unit="1/s") "Rate of the strain";
  discrete Time t_0(start=-1e3, fixed=true) "Time of the last shift";
equation
  when change(gear) then
    t_0 = time;
    i = if gear < 1 then pre(i) else sum(if k == min(gear, size(ratios, 1)) then ratios[k] else 0 for k in 1:size(ratios, 1));
  end when;
  engaged = if gear < 1 then 0 else min(max((time - t_0)*2/t_shift - 1, 0), 1);
  w_slip = der(a.phi) - i*der(b.phi);
  rate = (w_slip - abs(w_slip)*strain)/give;
  der(strain) = rate;
  tau = tau_max*engaged*(strain + 0.01*rate/(1 + abs(rate)));
  loss = tau*w_slip - tau_max*engaged*give*strain*rate;
  a.tau = tau;
  b.tau = -i*tau;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-60,60},{60,-60}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-60,0},{-30,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{30,0},{60,0}}, color={40,44,60}, thickness=0.5),
      Line(points={{-30,40},{-30,-20}}, color={40,44,60}),
      Line(points={{-10,40},{-10,-20}}, color={40,44,60}),
      Line(points={{10,40},{10,-20}}, color={40,44,60}),
      Line(points={{30,40},{30,-20}}, color={40,44,60}),
      Line(points={{-30,-40},{30,-40}}, color={40,44,60}),
      Line(points={{0,100},{0,60}}, color={40,44,60}),
      Text(extent={{-150,-66},{150,-106}}, textString="%name")}),
    Documentation(info="<html><p><i>τ_b = i τ_a</i>, <i>w_a = i w_b</i> once its clutch holds, with some elasticity; while it shifts the clutch lets go and takes up the difference of the speeds. What it loses is counted.</p></html>"),
    __Movrel(synonyms={"transmission", "manual", "automated", "speeds", "ratios"}, source="Mitschke and Wallentowitz, Dynamik der Kraftfahrzeuge"));
end Gearbox;
