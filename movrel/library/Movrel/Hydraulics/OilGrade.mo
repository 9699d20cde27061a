within Movrel.Hydraulics;
type OilGrade = enumeration(
  mineral_32 "Mineral oil, 32 mm2/s at 40 °C",
  mineral_46 "Mineral oil, 46 mm2/s at 40 °C",
  mineral_68 "Mineral oil, 68 mm2/s at 40 °C",
  ester_46 "Synthetic ester, 46 mm2/s at 40 °C",
  water_glycol_46 "Water with glycol, 46 mm2/s at 40 °C",
  brake_fluid "Brake fluid, glycol ether") "What is in a hydraulic circuit";
