within Movrel.Examples;
package Pneumatics "Pneumatics: cylinders, receivers and air motors"
end Pneumatics;
