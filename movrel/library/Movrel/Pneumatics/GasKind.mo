within Movrel.Pneumatics;
type GasKind = enumeration(
  air "Air",
  nitrogen "Nitrogen",
  carbon_dioxide "Carbon dioxide",
  helium "Helium") "What is in a pneumatic circuit";
