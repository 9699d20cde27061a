within Movrel.Electrical;
type Carrier = enumeration(
  sawtooth "Sawtooth: pulses begin with the period",
  triangle "Triangle: pulses lie in the middle of the period") "Carrier of a pulse-width modulation";
