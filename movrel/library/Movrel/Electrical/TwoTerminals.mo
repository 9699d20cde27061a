within Movrel.Electrical;
partial model TwoTerminals "Part with two terminals"
  import Movrel.Units.*;
  Terminal a "Positive terminal" annotation (Placement(transformation(extent={{-110,-10},{-90,10}})));
  Terminal b "Negative terminal" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Voltage v "Voltage from a to b";
  Current i "Current from a to b";
equation
  v = a.v - b.v;
  i = a.i;
  a.i + b.i = 0;
  annotation (
    Documentation(info="<html><p>Kirchhoff: what flows in at one terminal flows out at the other.</p></html>"));
end TwoTerminals;
