within Movrel.Examples;
package Signals "Signals: small diagrams"
end Signals;
