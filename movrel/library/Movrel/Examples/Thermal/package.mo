within Movrel.Examples;
package Thermal "Thermal: cooling, walls and rods"
end Thermal;
