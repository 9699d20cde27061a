within Movrel.Hydraulics;
partial model OilHeating "Part that turns power to heat, which the oil takes up"
  import Movrel.Units.*;
  outer Oil oil "Oil of the circuit";
  Power loss "Power turned to heat";
protected
  Movrel.Thermal.ThermalNode to_oil(Q=-loss) "Where the heat goes" annotation (Placement(transformation(extent={{50,-110},{70,-90}})));
equation
  connect(to_oil, oil.heat);
  annotation (
    Documentation(info="<html><p>All of <i>loss</i> goes into the oil.</p></html>"));
end OilHeating;
