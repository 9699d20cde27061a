within Movrel;
package Pneumatics "Pneumatics: compressed gas, valves, cylinders and motors"
end Pneumatics;
