within Movrel.Tables;
function linear "Straight lines between the rows of a table"
  input Real table[:, :] "Argument in the first column, values in the others";
  input Real u "Argument";
  input Integer column = 2 "Column of the value";
  output Real y "Value at the argument";
algorithm
  y := table[1, column];
  for i in 1:size(table, 1) - 1 loop
    assert(table[i + 1, 1] > table[i, 1], "the first column of a table does not increase after row " + String(i));
    if u > table[i, 1] then
      y := table[i, column] + (table[i + 1, column] - table[i, column])*(u - table[i, 1])/(table[i + 1, 1] - table[i, 1]);
    end if;
  end for;
  if u > table[size(table, 1), 1] then
    y := table[size(table, 1), column];
  end if;
end linear;
