package Movrel "Component library: parts of physical plants with their equations"
  annotation (Documentation(info="<html>
<p>Every part is ordinary Modelica text. Ports carry an effort and a flow variable in SI units; a flow
is positive into the part.</p>
</html>"));
end Movrel;
