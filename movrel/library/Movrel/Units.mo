within Movrel;
package Units "Physical quantities with their SI units"
  type Angle = Real(final quantity="Angle", final unit="rad");
  type AngularVelocity = Real(final quantity="AngularVelocity", final unit="rad/s");
  type MomentOfInertia = Real(final quantity="MomentOfInertia", final unit="kg.m2", min=0);
  type RotationalDamping = Real(final quantity="RotationalDampingConstant", final unit="N.m.s/rad");
  type RotationalStiffness = Real(final quantity="RotationalSpringConstant", final unit="N.m/rad");
  type Torque = Real(final quantity="Torque", final unit="N.m");
  type Area = Real(final quantity="Area", final unit="m2", min=0);
  type Density = Real(final quantity="Density", final unit="kg/m3", min=0);
  type Acceleration = Real(final quantity="Acceleration", final unit="m/s2");
  type Length = Real(final quantity="Length", final unit="m");
  type Pressure = Real(final quantity="Pressure", final unit="Pa");
  type Ratio = Real(final quantity="Ratio", final unit="1");
  type Time = Real(final quantity="Time", final unit="s");
  type Velocity = Real(final quantity="Velocity", final unit="m/s");
  type Volume = Real(final quantity="Volume", final unit="m3");
  type VolumeFlowRate = Real(final quantity="VolumeFlowRate", final unit="m3/s");

  constant Acceleration g_n = 9.80665 "Standard acceleration of free fall (ISO 80000-3)";
end Units;
