within Movrel.Hydraulics;
model MasterCylinder "Tandem master cylinder for two brake circuits"
  import Movrel.Units.*;
  parameter Length d_piston(min=1e-9, displayUnit="mm") = 0.0222 "Diameter of both pistons";
  parameter Length s_1(min=1e-9, displayUnit="mm") = 0.018 "Stroke of the rear circuit";
  parameter Length s_2(min=1e-9, displayUnit="mm") = 0.016 "Stroke of the front circuit";
  parameter Length s_hole(min=1e-9, displayUnit="mm") = 1e-3 "Way in which a piston closes its hole to the reservoir";
  parameter Mass m(min=1e-9) = 0.15 "Each piston";
  parameter Force f_1(min=0) = 100 "Force of the spring between the pistons at rest";
  parameter Force f_2(min=0) = 140 "Force of the spring of the front piston at rest";
  parameter TranslationalStiffness c(min=0) = 3000 "Stiffness of each spring";
  parameter TranslationalDamping d(min=0) = 300 "Friction of each piston's seals";
  parameter VolumeFlowRate q_hole(displayUnit="l/min", min=1e-12) = 2/60000 "Flow through a hole at 1 bar, fully open";
  parameter Volume V_dead(displayUnit="cm3", min=1e-12) = 1e-6 "Oil that is left in a chamber at its end";
  final parameter Area A = pi*d_piston^2/4 "Area of a piston";
  outer Oil oil "Oil of the circuit";
  Movrel.Translational.Rod rod "Push rod" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  OilPort rear "Circuit between the pistons" annotation (Placement(transformation(extent={{-40,-110},{-20,-90}})));
  OilPort front "Circuit before the front piston" annotation (Placement(transformation(extent={{40,-110},{60,-90}})));
  Length x_1(start=0, stateSelect=StateSelect.prefer, displayUnit="mm") "Way of the rear piston";
  Length x_2(start=0, stateSelect=StateSelect.prefer, displayUnit="mm") "Way of the front piston";
  Velocity v_1(start=0, stateSelect=StateSelect.prefer) "Speed of the rear piston";
  Velocity v_2(start=0, stateSelect=StateSelect.prefer) "Speed of the front piston";
  Pressure p_1(start=0, stateSelect=StateSelect.prefer, displayUnit="bar") "Pressure between the pistons";
  Pressure p_2(start=0, stateSelect=StateSelect.prefer, displayUnit="bar") "Pressure before the front piston";
  Volume V_reservoir(start=0, fixed=true, nominal=1e-6, displayUnit="cm3") "Oil that has gone into the reservoir";
protected
  parameter TranslationalStiffness c_stop = 1e8*A/1e-3 "Stiffness of the stops: a millimetre at 1000 bar";
  parameter TranslationalDamping d_stop = 2*sqrt(c_stop*m) "Damping of the stops";
  Force f_spring "Force between the pistons";
  Force f_home_1 "Force of the rear stop on the rear piston";
  Force f_home_2 "Force of the rear stop on the front piston";
  Force f_end "Force of the front stop on the front piston";
  VolumeFlowRate q_1 "Flow to the reservoir";
  VolumeFlowRate q_2 "Flow to the reservoir";
equation
  x_1 = rod.s;
  v_1 = der(x_1);
  v_2 = der(x_2);
  f_spring = f_1 + c*(x_1 - x_2) + (if x_1 - x_2 > s_1 then c_stop*(x_1 - x_2 - s_1) + d_stop*(v_1 - v_2) else 0);
  f_home_1 = if x_1 < 0 then max(0, -c_stop*x_1 - d_stop*v_1) else 0;
  f_home_2 = if x_2 < 0 then max(0, -c_stop*x_2 - d_stop*v_2) else 0;
  f_end = if x_2 > s_2 then c_stop*(x_2 - s_2) + d_stop*v_2 else 0;
  m*der(v_1) = rod.f - A*p_1 - f_spring - d*v_1 + f_home_1;
  m*der(v_2) = A*(p_1 - p_2) + f_spring - f_2 - c*x_2 - d*v_2 + f_home_2 - f_end;
  q_1 = throttled(p_1, min(max(1 - x_1/s_hole, 0), 1)*q_hole, 1e5, 1e3);
  q_2 = throttled(p_2, min(max(1 - x_2/s_hole, 0), 1)*q_hole, 1e5, 1e3);
  (A*(s_1 + x_2 - x_1) + V_dead)*capacity(p_1, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)*der(p_1) = rear.q - q_1 - A*(v_2 - v_1)/relative_volume(p_1, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  (A*(s_2 - x_2) + V_dead)*capacity(p_2, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient)*der(p_2) = front.q - q_2 + A*v_2/relative_volume(p_2, oil.K, oil.m, oil.air, oil.n_air, oil.p_ambient);
  der(V_reservoir) = q_1 + q_2;
  rear.p = p_1;
  front.p = p_2;
  annotation (
    Icon(graphics={
      Rectangle(extent={{-80,34},{90,-34}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Rectangle(extent=DynamicSelect({{-66,34},{-54,-34}}, {{-66 + 60*x_1/(s_1 + s_2),34},{-54 + 60*x_1/(s_1 + s_2),-34}}), lineColor={40,44,60}, fillColor={200,203,214}, fillPattern=FillPattern.Solid),
      Rectangle(extent=DynamicSelect({{4,34},{16,-34}}, {{4 + 60*x_2/(s_1 + s_2),34},{16 + 60*x_2/(s_1 + s_2),-34}}), lineColor={40,44,60}, fillColor={200,203,214}, fillPattern=FillPattern.Solid),
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, thickness=1),
      Line(points={{-30,-34},{-30,-100}}, color={70,76,138}, thickness=0.5),
      Line(points={{50,-34},{50,-100}}, color={70,76,138}, thickness=0.5),
      Rectangle(extent={{-50,80},{40,50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-40,50},{-40,34}}, color={40,44,60}),
      Line(points={{30,50},{30,34}}, color={40,44,60}),
      Text(extent={{-150,130},{150,90}}, textString="%name")}),
    Documentation(info="<html><p>Two pistons in one bore: <i>A p_1 = f_rod - springs</i>, and the front piston follows <i>p_1 = p_2</i>. At rest holes join both chambers with the reservoir. If one circuit leaks, its piston goes to its stop and the other works on.</p></html>"),
    __Movrel(synonyms={"brake master cylinder", "pedal", "dual circuit"}, source="Limpert, Brake Design and Safety, 3rd ed. 2011, chapter 5; symbol ISO 1219-1"));
end MasterCylinder;
