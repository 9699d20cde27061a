within Movrel.Tables;
function hold "The value of the last row whose argument has been reached; every change is an event"
  input Real table[:, :] "Argument in the first column, values in the others";
  input Real u "Argument";
  input Integer column = 2 "Column of the value";
  output Real y "Value at the argument";
algorithm
  y := table[1, column];
  for i in 2:size(table, 1) loop
    assert(table[i, 1] > table[i - 1, 1], "the first column of a table does not increase after row " + String(i - 1));
    if u >= table[i, 1] then
      y := table[i, column];
    end if;
  end for;
  annotation (GenerateEvents=true);
end hold;
