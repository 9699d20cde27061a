within Movrel.Process;
type Characteristic = enumeration(
  linear "In proportion to the lift",
  equal_percentage "Each step of the lift by the same percentage",
  quick "Most of it at the beginning of the lift") "How the flow of a valve grows with its lift";
