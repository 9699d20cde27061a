within Movrel.Process;
package Mixtures "Mixtures: liquids with species and temperature, carried by the flow"
end Mixtures;
