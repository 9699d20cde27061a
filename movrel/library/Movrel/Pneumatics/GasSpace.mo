within Movrel.Pneumatics;
partial model GasSpace "Gas in a space whose volume may change"
  import Movrel.Units.*;
  outer Gas gas "Gas of the circuit";
  parameter Pressure p_start(displayUnit="bar", min=0) = gas.p_ambient "Absolute pressure at the start";
  parameter Temperature T_start = gas.T_ambient "Temperature at the start";
  parameter ThermalConductance G(min=0) = 0 "Conductance for heat between the gas and its wall";
  parameter Boolean heated = false "Its wall has a heat port; else it is as warm as the surroundings" annotation (Evaluate=true, Dialog(group="Heat"));
  Movrel.Thermal.ThermalNode heat(T=T_wall, Q=Q) if heated "Wall" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Pressure p(start=p_start, stateSelect=StateSelect.prefer, displayUnit="bar", min=0) "Absolute pressure";
  Temperature T(start=T_start, stateSelect=StateSelect.prefer) "Temperature of the gas";
  Volume V(displayUnit="cm3") "Volume";
  Mass m_gas "Gas in it";
  HeatFlowRate Q "Heat from the wall to the gas";
protected
  Temperature T_wall "Temperature of the wall";
  VolumeFlowRate growth "Rate of the volume";
  MassFlowRate m_in "Mass that flows in";
  Power H_in "Enthalpy that flows in";
equation
  if not heated then
    T_wall = gas.T_ambient;
  end if;
  Q = G*(T_wall - T);
  m_gas = p*V/(gas.R_s*T);
  V*der(p) = (gas.kappa - 1)*(H_in + Q) - gas.kappa*p*growth;
  m_gas*gas.c_v*der(T) = H_in + Q - p*growth - gas.c_v*T*m_in;
  annotation (
    Documentation(info="<html><p>Ideal gas with balances of mass and energy: <i>d(m)/dt = Σ m</i>, <i>d(m c_v T)/dt = Σ m h + Q - p dV/dt</i>, <i>p V = m R_s T</i>.</p></html>"),
    __Movrel(source="Beater, Pneumatic Drives, 2007, chapter 4"));
end GasSpace;
