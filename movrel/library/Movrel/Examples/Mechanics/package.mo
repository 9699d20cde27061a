within Movrel.Examples;
package Mechanics "Mechanics: oscillators, drives and friction"
end Mechanics;
