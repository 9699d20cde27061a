within Movrel.Translational;
model RoadLoad "Grade, rolling and air resistance of a vehicle"
  import Movrel.Units.*;
  parameter Mass m(min=0) = 1000 "Mass of the vehicle";
  parameter Ratio c_r(min=0) = 0.012 "Rolling resistance coefficient";
  parameter Area A(min=0) = 2 "Frontal area";
  parameter Ratio c_w(min=0) = 0.3 "Drag coefficient";
  parameter Density rho = 1.2 "Density of the air";
  parameter Velocity v_small(min=1e-9) = 0.01 "Speed below which rolling resistance grows with the speed";
  Movrel.Signals.SignalIn grade "Rise over length of the road" annotation (Placement(transformation(extent={{-10,100},{10,120}})));
  Rod a "Vehicle" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Velocity v "Speed";
  Force f_grade "Part of the grade";
  Force f_roll "Rolling resistance";
  Force f_air "Air resistance";
protected
  Real beta "Angle of the road in rad";
equation
  v = der(a.s);
  beta = atan(grade);
  f_grade = m*g_n*sin(beta);
  f_roll = c_r*m*g_n*cos(beta)*tanh(v/v_small);
  f_air = rho*c_w*A*v*abs(v)/2;
  a.f = f_grade + f_roll + f_air;
  annotation (
    Icon(graphics={
      Line(points={{-90,-60},{90,0}}, color={40,44,60}, thickness=0.5),
      Polygon(points={{-60,-30},{-52,0},{0,18},{36,6},{44,4},{-60,-30}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{-50,-24},{-26,-48}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Ellipse(extent={{10,-2},{34,-26}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{90,60},{50,60}}, color={40,44,60}),
      Line(points={{90,40},{60,40}}, color={40,44,60}),
      Text(extent={{-190,150},{-20,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%m")}),
    Documentation(info="<html><p><i>f = m g sin β + c_r m g cos β + rho c_w A v²/2</i></p></html>"),
    __Movrel(synonyms={"driving resistance", "drag", "hill", "vehicle"}, source="Mitschke and Wallentowitz, Dynamik der Kraftfahrzeuge"));
end RoadLoad;
