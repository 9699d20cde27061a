within Movrel.Signals;
type Sign = enumeration(
  add "The input is added",
  subtract "The input is subtracted") "What a sum does with an input";
