within Movrel;
package Thermal "Thermal: heat capacities, conduction, convection and radiation"
end Thermal;
