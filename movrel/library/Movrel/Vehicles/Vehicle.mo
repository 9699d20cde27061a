within Movrel.Vehicles;
model Vehicle "Vehicle along its way: grade, wind and axle loads"
  import Movrel.Units.*;
  parameter Mass m(min=1e-6) = 1500 "Mass";
  parameter Length l(min=1e-6) = 2.6 "Wheelbase";
  parameter Length l_f(min=0) = 1.2 "Distance of the centre of mass from the front axle";
  parameter Length h(min=0) = 0.55 "Height of the centre of mass";
  parameter Area A(min=0) = 2.2 "Frontal area";
  parameter Ratio c_w(min=0) = 0.32 "Drag coefficient";
  parameter Density rho = 1.2 "Density of the air";
  parameter Time T_pitch(min=1e-6) = 0.1 "Time in which load moves between the axles";
  parameter Velocity v_start(displayUnit="km/h") = 0 "Speed at the start";
  Movrel.Translational.Rod front "Front axle" annotation (Placement(transformation(extent={{-70,-110},{-50,-90}})));
  Movrel.Translational.Rod rear "Rear axle" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Movrel.Signals.SignalIn grade "Rise over length of the road" annotation (Placement(transformation(extent={{-50,100},{-30,120}})));
  Movrel.Signals.SignalIn wind(unit="m/s") "Wind against it" annotation (Placement(transformation(extent={{30,100},{50,120}})));
  Movrel.Signals.SignalOut v(unit="m/s", start=v_start, stateSelect=StateSelect.prefer) "Speed" annotation (Placement(transformation(extent={{100,-10},{120,10}})));
  Movrel.Signals.SignalOut load_front(unit="N") "Load on the front axle" annotation (Placement(transformation(extent={{-120,30},{-100,50}})));
  Movrel.Signals.SignalOut load_rear(unit="N") "Load on the rear axle" annotation (Placement(transformation(extent={{-120,-50},{-100,-30}})));
  Length s(start=0, stateSelect=StateSelect.prefer) "Way";
  Acceleration acc "Acceleration";
  Force f_air "Air resistance";
  Force f_grade "Part of the weight along the road";
protected
  Angle beta "Slope of the road";
  Force moved(start=0, fixed=true) "Load that has moved to the rear axle";
equation
  assert(l_f < l, "the centre of mass must lie between the axles: l_f below l");
  front.s = s;
  rear.s = s;
  v = der(s);
  acc = der(v);
  beta = atan(grade);
  f_air = rho*c_w*A/2*(v + wind)*abs(v + wind);
  f_grade = m*g_n*sin(beta);
  m*acc = front.f + rear.f - f_air - f_grade;
  T_pitch*der(moved) = (m*acc + f_grade)*h/l - moved;
  load_front = m*g_n*cos(beta)*(l - l_f)/l - moved;
  load_rear = m*g_n*cos(beta)*l_f/l + moved;
  annotation (
    Icon(graphics={
      Polygon(points={{-90,-30},{-90,10},{-50,16},{-24,50},{44,50},{66,10},{90,6},{90,-30},{-90,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-76,-14},{-44,-46}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{44,-14},{76,-46}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{-60,-46},{-60,-100}}, color={40,44,60}, thickness=0.5),
      Line(points={{60,-46},{60,-100}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-112},{150,-152}}, textString="%name")}),
    Documentation(info="<html><p><i>m dv/dt = Σ f - ρ c_w A (v + wind)²/2 - m g sin β</i>; the axle loads follow from moments about the wheels, with <i>m (dv/dt + g sin β) h</i> moving load to the rear within <i>T_pitch</i>.</p></html>"),
    __Movrel(synonyms={"car", "truck", "longitudinal", "drag", "hill", "axle load"}, source="Mitschke and Wallentowitz, Dynamik der Kraftfahrzeuge"));
end Vehicle;
