within Movrel.Electrical;
model Inductor "Inductor"
  import Movrel.Units.*;
  extends TwoTerminals(i(start=i_start, stateSelect=StateSelect.prefer));
  parameter Inductance L(min=0) = 1e-3 "Inductance";
  parameter Current i_start = 0 "Current at the start";
equation
  v = L*der(i);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-60,0}}, color={40,44,60}),
      Line(points={{60,0},{100,0}}, color={40,44,60}),
      Line(points={{-60,0},{-58,18},{-45,24},{-32,18},{-30,0},{-28,18},{-15,24},{-2,18},{0,0},{2,18},{15,24},{28,18},{30,0},{32,18},{45,24},{58,18},{60,0}}, color={40,44,60}, thickness=0.25),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%L")}),
    Documentation(info="<html><p><i>v = L di/dt</i></p></html>"),
    __Movrel(synonyms={"coil", "choke", "inductance"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Inductor;
