within Movrel.Electrical;
model PermanentMagnetMotor "Permanent-magnet DC motor by the data that its maker gives"
  import Movrel.Units.*;
  parameter MotorData data = MotorData.constants "What the datasheet gives";
  parameter Voltage V_n(min=1e-6) = 24 "Nominal voltage" annotation (__Movrel(derived="V_u"), Dialog(enable=data <> MotorData.series));
  parameter Resistance R_a(min=0) = 1 "Terminal resistance" annotation (__Movrel(derived="R"), Dialog(group="Data", enable=data == MotorData.constants));
  parameter TorqueConstant k_M(min=0) = 0.05 "Torque constant, and voltage per speed in V.s/rad" annotation (__Movrel(derived="k"), Dialog(group="Data", enable=data == MotorData.constants));
  parameter Torque tau_stall(min=0) = 1.2 "Stall torque at nominal voltage" annotation (__Movrel(derived="tau_s"), Dialog(group="Data", enable=data == MotorData.stall_torque));
  parameter AngularVelocity w_0(min=0, displayUnit="rpm") = 470 "No-load speed at nominal voltage" annotation (__Movrel(derived="w_f"), Dialog(group="Data", enable=data == MotorData.stall_torque or data == MotorData.rated_point));
  parameter Torque tau_n(min=0) = 0.2 "Rated torque" annotation (Dialog(group="Data", enable=data == MotorData.rated_point));
  parameter AngularVelocity w_n(min=0, displayUnit="rpm") = 400 "Rated speed" annotation (Dialog(group="Data", enable=data == MotorData.rated_point));
  parameter Current I_n(min=0) = 4.5 "Rated current" annotation (Dialog(group="Data", enable=data == MotorData.rated_point));
  parameter Power P_n(min=0) = 0 "Rated power, to be checked against torque and speed; 0 when it is not given" annotation (Dialog(group="Data", enable=data == MotorData.rated_point));
  parameter Real series[6, :] = [24; 1; 0.05; 0.5e-3; 1e-5; 0] "Datasheet of a series, a column for each motor; rows: nominal voltage in V, resistance in Ohm, torque constant in N.m/A, inductance in H, inertia in kg.m2, no-load current in A" annotation (Dialog(group="Data", enable=data == MotorData.series));
  parameter Integer column(min=1) = 1 "Column of the motor" annotation (Dialog(group="Data", enable=data == MotorData.series));
  parameter Current I_0(min=0) = 0 "No-load current" annotation (__Movrel(derived="I_u"), Dialog(group="More", enable=data <> MotorData.series));
  parameter Inductance L_a(min=0) = 0.5e-3 "Terminal inductance" annotation (__Movrel(derived="L"), Dialog(group="More", enable=data <> MotorData.series));
  parameter MomentOfInertia J(min=1e-12) = 1e-5 "Inertia of the rotor" annotation (__Movrel(derived="J_r"), Dialog(group="More", enable=data <> MotorData.series));
  parameter Boolean warms = false "Winding and housing warm up by the thermal data" annotation (Evaluate=true, Dialog(group="Heat"));
  parameter Boolean heated = false "Has a heat port: at the housing, if that warms up" annotation (Evaluate=true, Dialog(group="Heat"));
  parameter Temperature T_ambient(displayUnit="degC") = 298.15 "Temperature around it, of the data as well" annotation (Dialog(group="Heat"));
  parameter Real alpha(unit="1/K") = 3.93e-3 "Rise of the resistance with the winding's temperature; copper 0.00393" annotation (Dialog(group="Heat", enable=warms or heated));
  parameter ThermalResistance R_wh(min=1e-9) = 2 "Thermal resistance from winding to housing" annotation (Dialog(group="Heat", enable=warms));
  parameter ThermalResistance R_ha(min=1e-9) = 6 "Thermal resistance from housing to ambient" annotation (Dialog(group="Heat", enable=warms and not heated));
  parameter Time t_w(min=1e-9) = 20 "Thermal time constant of the winding" annotation (Dialog(group="Heat", enable=warms));
  parameter Time t_h(min=1e-9, displayUnit="min") = 900 "Thermal time constant of the housing" annotation (Dialog(group="Heat", enable=warms));
  parameter Temperature T_max(displayUnit="degC") = 428.15 "Highest temperature of the winding" annotation (Dialog(group="Heat", enable=warms or heated));
  final parameter TorqueConstant k = if data == MotorData.series then series[3, min(column, size(series, 2))] elseif data == MotorData.constants then k_M
    elseif data == MotorData.stall_torque then (V_n - R_0*I_0)/max(w_0, 1e-9)
    else (V_n - R*I_0)/max(w_0, 1e-9)
    "Torque constant that is used";
  final parameter Resistance R = if data == MotorData.series then series[2, min(column, size(series, 2))] elseif data == MotorData.constants then R_a elseif data == MotorData.stall_torque then R_0
    else V_n*(1 - w_n/w_0)/max(I_n - I_0*w_n/w_0, 1e-9) "Resistance that is used";
  final parameter Inductance L = if data == MotorData.series then series[4, min(column, size(series, 2))] else L_a "Inductance that is used";
  final parameter MomentOfInertia J_r = if data == MotorData.series then series[5, min(column, size(series, 2))] else J "Inertia that is used";
  final parameter Torque tau_friction = k*I_u "Friction torque that the no-load current stands for";
  Terminal a "Positive terminal" annotation (Placement(transformation(extent={{-70,90},{-50,110}})));
  Terminal b "Negative terminal" annotation (Placement(transformation(extent={{50,90},{70,110}})));
  Movrel.Rotational.Shaft shaft "Shaft" annotation (Placement(transformation(extent={{90,-10},{110,10}})));
  Movrel.Thermal.ThermalNode heat(Q=-Q_out, T=T_h) if heated "Heat port for the losses" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Voltage v "Voltage";
  Current i(start=0, fixed=true) "Current";
  Angle phi(start=0, stateSelect=StateSelect.prefer) "Angle of the rotor";
  AngularVelocity w(start=0, stateSelect=StateSelect.prefer, displayUnit="rpm") "Speed";
  Torque tau_e "Torque of the current";
  Power loss "Power turned to heat";
  Temperature T_w(start=T_ambient, stateSelect=StateSelect.prefer, displayUnit="degC") "Temperature of the winding";
  Temperature T_h(start=T_ambient, stateSelect=StateSelect.prefer, displayUnit="degC") "Temperature of the housing";
  Power Q_out "Heat that leaves the housing";
protected
  final parameter Voltage V_u = if data == MotorData.series then series[1, min(column, size(series, 2))] else V_n "Nominal voltage that is used";
  final parameter Current I_u = if data == MotorData.series then series[6, min(column, size(series, 2))] else I_0 "No-load current that is used";
  final parameter Torque tau_s = k*(V_u/max(R, 1e-12) - I_u) "Stall torque of the data, whatever they are";
  final parameter AngularVelocity w_f = (V_u - R*I_u)/max(k, 1e-12) "No-load speed of the data, whatever they are";
  Resistance R_T "Resistance at the winding's temperature";
  parameter Resistance R_0 = 2*V_n^2/max(B + sqrt(B^2 - 4*I_0^2*V_n^2), 1e-12)
    "Resistance from tau_stall = k (V_n/R - I_0) with k = (V_n - R I_0)/w_0";
  parameter Power B = 2*V_n*I_0 + tau_stall*w_0 "Middle coefficient of its quadratic equation";
  Torque tau_f "Friction";
equation
  assert(column <= size(series, 2), "the series has no such column; choose another one");
  assert(data <> MotorData.rated_point or P_n <= 0 or abs(P_n - tau_n*w_n) <= 0.05*P_n,
    "the rated power does not fit: torque times speed differs by more than 5 %; correct tau_n, w_n or P_n", AssertionLevel.warning);
  assert(data <> MotorData.rated_point or w_n < w_0, "the rated speed w_n must be below the no-load speed w_0");
  assert(data <> MotorData.rated_point or tau_n <= 1.1*k*(I_n - I_0) and tau_n >= 0.9*k*(I_n - I_0),
    "the rated point does not fit: torque, and current times the derived torque constant, differ by more than 10 %; correct tau_n, I_n, V_n or the speeds", AssertionLevel.warning);
  v = a.v - b.v;
  a.i = i;
  a.i + b.i = 0;
  R_T = R*(1 + alpha*(T_w - T_ambient));
  v = R_T*i + L*der(i) + k*w;
  tau_e = k*i;
  phi = shaft.phi;
  w = der(phi);
  tau_f = tau_friction*tanh(w/0.1);
  J_r*der(w) = tau_e - tau_f + shaft.tau;
  loss = R_T*i^2 + tau_f*w;
  if warms then
    t_w/R_wh*der(T_w) = loss - (T_w - T_h)/R_wh;
    t_h/R_ha*der(T_h) = (T_w - T_h)/R_wh - Q_out;
  else
    T_w = T_h;
    Q_out = loss;
  end if;
  if not heated then
    if warms then
      Q_out = (T_h - T_ambient)/R_ha;
    else
      T_h = T_ambient;
    end if;
  end if;
  assert(T_w <= T_max, "the winding is hotter than T_max allows: load it less or cool it", AssertionLevel.warning);
  annotation (
    Icon(graphics={
      Line(points={{-60,100},{-60,36}}, color={40,44,60}),
      Line(points={{60,100},{60,36}}, color={40,44,60}),
      Ellipse(extent={{-70,70},{70,-70}}, lineColor={40,44,60}, fillColor={255,255,255}, fillPattern=FillPattern.Solid),
      Text(extent={{-50,46},{50,-20}}, textString="M"),
      Text(extent={{-50,-16},{50,-56}}, textString="PM"),
      Line(points={{70,0},{100,0}}, color={40,44,60}, thickness=0.5),
      Text(extent={{-150,-108},{150,-148}}, textString="%name")}),
    Documentation(info="<html><p><i>v = R i + L di/dt + k w</i>, <i>J dw/dt = k i - tau_friction + tau_shaft</i>. The series of a maker is pasted as a table and one column chosen. From stall torque and no-load speed, or from a rated point, <i>R</i> and <i>k</i> follow with the same equations at rest and without load. With thermal data the winding passes its losses through <i>R_wh</i> to the housing and that through <i>R_ha</i> to the ambient; the time constants of the data give both heat capacities, <i>t_w/R_wh</i> and <i>t_h/R_ha</i>, and the resistance rises with <i>alpha (T_w - T_ambient)</i></p></html>"),
    __Movrel(synonyms={"servo", "brush motor", "stall torque", "no-load speed", "rated torque", "nominal voltage", "winch motor"}, source="Mohan, Electric Machines and Drives, 2012, chapter 7"));
end PermanentMagnetMotor;
