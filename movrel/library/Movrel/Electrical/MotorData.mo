within Movrel.Electrical;
type MotorData = enumeration(
  constants "Resistance and torque constant",
  stall_torque "Stall torque and no-load speed",
  rated_point "A rated point: torque, speed and current",
  series "A table of a whole series, of which one column is chosen") "What a maker says of a motor";
