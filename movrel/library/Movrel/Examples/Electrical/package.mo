within Movrel.Examples;
package Electrical "Electrical: networks, converters and machines"
end Electrical;
