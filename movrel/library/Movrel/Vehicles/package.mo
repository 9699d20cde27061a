within Movrel;
package Vehicles "Vehicles: engines, converters, gearboxes, tyres and drivers"
end Vehicles;
