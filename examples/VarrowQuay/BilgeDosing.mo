within VarrowQuay;
model BilgeDosing "Neutralising bilge water: the balances as they are derived"
  parameter Real q_in(unit="m3/s", displayUnit="l/min") = 2e-4 "Bilge water that comes in";
  parameter Real q_dose(unit="m3/s", displayUnit="l/min") = 1e-5 "Caustic that is dosed";
  parameter Real q_max(unit="m3/s", displayUnit="l/min") = 2.1e-4 "What the outlet pump takes once the reactor is full";
  parameter Real c_in(unit="mol/m3") = 20 "Acid in the bilge water";
  parameter Real c_dose(unit="mol/m3") = 380 "Alkali in the caustic";
  parameter Real k(unit="m3/(mol.s)") = 2e-4 "Rate constant of the neutralisation";
  parameter Real V_full(unit="m3") = 0.5 "Volume at which the outlet pump starts";
  parameter Real V_start(unit="m3") = 1e-4 "Almost empty at the start";
  Real V(unit="m3", start=V_start, fixed=true) "Liquid in the reactor";
  Real c(unit="mol/m3", start=0, fixed=true) "Acid";
  Real b(unit="mol/m3", start=0, fixed=true) "Alkali";
  Real q_out(unit="m3/s", displayUnit="l/min") "Outlet";
  Real r(unit="mol/(m3.s)") "Rate of the neutralisation";
equation
  der(V) = q_in + q_dose - q_out;
  der(V*c) = q_in*c_in - q_out*c - r*V;
  der(V*b) = q_dose*c_dose - q_out*b - r*V;
  r = k*c*b;
  q_out = q_max*min(max((V - V_full)/0.005, 0), 1);
  annotation (
    experiment(StopTime=20000, Interval=20, Tolerance=1e-8),
    Diagram(graphics={
      Text(extent={{-100,60},{100,44}}, textString="der(V*c) = q_in*c_in - q_out*c - k*c*b*V, as it is derived", horizontalAlignment=TextAlignment.Left),
      Text(extent={{-100,36},{100,20}}, textString="Steady: q_in c_in - q c = k c b V with q b = q_dose c_dose - q_in c_in + q c gives c = 5.75 mol/m3", horizontalAlignment=TextAlignment.Left)}),
    Documentation(info="<html><p>Acid bilge water is neutralised with caustic in a stirred reactor that starts almost empty. The balances
stand as they are derived: amounts <i>V c</i>, not concentrations, so nothing is divided by the volume.</p>
<p>By hand: steady with <i>q = q_in + q_dose = 2.1e-4 m³/s</i>. The difference of alkali and acid does not react:
<i>b - c = (q_dose c_dose - q_in c_in)/q = -0.952 mol/m³</i>, and <i>q (c_0 - c) = k c b V</i> with
<i>c_0 = q_in c_in/q = 19.05</i> is a quadratic equation for c.</p></html>"),
    __Movrel(claims={"final(c) ≈ 5.75 mol/m3 ± 2 %", "V > 0 m3"}, recorder={{"V"}, {"c", "b"}, {"r"}}));
end BilgeDosing;
