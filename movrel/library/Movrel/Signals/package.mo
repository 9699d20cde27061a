within Movrel;
package Signals "Signals: sources and operations without physical ports"
end Signals;
