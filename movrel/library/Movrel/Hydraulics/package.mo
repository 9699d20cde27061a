within Movrel;
package Hydraulics "Hydraulics: oil under pressure, pumps, valves and cylinders"
end Hydraulics;
