within Movrel.Thermal;
partial model Dissipation "Part that turns power to heat, which a heat port may take up"
  import Movrel.Units.*;
  parameter Boolean heated = false "Has a heat port for its losses" annotation (Evaluate=true, Dialog(group="Heat"));
  ThermalNode heat(Q=-loss) if heated "Heat port for the losses" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
  Power loss "Power turned to heat";
  annotation (
    Documentation(info="<html><p>All of <i>loss</i> leaves through the heat port, where the part has one; otherwise it is only counted.</p></html>"));
end Dissipation;
