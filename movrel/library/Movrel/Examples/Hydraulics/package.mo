within Movrel.Examples;
package Hydraulics "Hydraulics: power packs, lifts, drives and brakes"
end Hydraulics;
