within Movrel.Examples;
package Vehicles "Vehicles: a car on a cycle, and a clutch with its actuator"
end Vehicles;
