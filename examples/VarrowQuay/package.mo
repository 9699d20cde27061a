package VarrowQuay "Models of the harbour at Varrow Quay"
  annotation (Documentation(info="<html>
<p>A made-up harbour with a storm-water sump, a bascule bridge, winches and workshops. Each model has
numbers that a hand calculation gives.</p>
</html>"));
end VarrowQuay;
