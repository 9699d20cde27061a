within Movrel.Electrical;
model Capacitor "Capacitor"
  import Movrel.Units.*;
  extends TwoTerminals(v(start=v_start, stateSelect=StateSelect.prefer));
  parameter Capacitance C(min=0) = 1e-6 "Capacitance";
  parameter Voltage v_start = 0 "Voltage at the start";
equation
  i = C*der(v);
  annotation (
    Icon(graphics={
      Line(points={{-100,0},{-12,0}}, color={40,44,60}),
      Line(points={{12,0},{100,0}}, color={40,44,60}),
      Line(points={{-12,45},{-12,-45}}, color={40,44,60}, thickness=0.5),
      Line(points={{12,45},{12,-45}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,150},{150,110}}, textString="%name"),
      Text(extent={{-150,-108},{150,-142}}, textString="%C")}),
    Documentation(info="<html><p><i>i = C dv/dt</i></p></html>"),
    __Movrel(synonyms={"capacitance", "buffer", "smoothing"}, source="Küpfmüller, Theoretische Elektrotechnik; symbol IEC 60617"));
end Capacitor;
