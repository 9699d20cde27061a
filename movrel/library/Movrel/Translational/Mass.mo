within Movrel.Translational;
model Mass "Body that slides, with its mass"
  import Movrel.Units.*;
  parameter Mass m(min=0) = 1 "Mass";
  parameter Length s_start = 0 "Position at the start";
  parameter Velocity v_start = 0 "Speed at the start";
  Rod a "One end" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Rod b "Other end" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Length s(start=s_start, stateSelect=StateSelect.prefer) "Position of the middle";
  Velocity v(start=v_start, stateSelect=StateSelect.prefer) "Speed";
  Acceleration acc "Acceleration";
equation
  s = a.s;
  s = b.s;
  v = der(s);
  acc = der(v);
  m*acc = a.f + b.f;
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}, thickness=0.5),
      Rectangle(extent={{-60,50},{60,-50}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Line(points={{60,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%m")}),
    Documentation(info="<html><p>Newton's second law: <i>m dv/dt = f_a + f_b</i>.</p></html>"),
    __Movrel(synonyms={"body", "load", "slider", "carriage"}, source="Hibbeler, Engineering Mechanics: Dynamics"));
end Mass;
