within Movrel.Tables;
function linear2 "Linear interpolation in two arguments"
  input Real table[:, :] "First argument down the first column, second along the first row, values inside";
  input Real u "First argument";
  input Real v "Second argument";
  output Real y "Value at the arguments";
protected
  Integer n = size(table, 1) - 1;
  Integer m = size(table, 2) - 1;
  Real line[size(table, 1) - 1] "Values at v in every row";
algorithm
  for i in 1:n loop
    line[i] := table[i + 1, 2];
    for j in 2:m loop
      if v > table[1, j] then
        line[i] := table[i + 1, j] + (table[i + 1, j + 1] - table[i + 1, j])*min(v - table[1, j], table[1, j + 1] - table[1, j])
          /(table[1, j + 1] - table[1, j]);
      end if;
    end for;
  end for;
  y := line[1];
  for i in 1:n - 1 loop
    assert(table[i + 2, 1] > table[i + 1, 1], "the first column of a table does not increase after row " + String(i + 1));
    if u > table[i + 1, 1] then
      y := line[i] + (line[i + 1] - line[i])*min(u - table[i + 1, 1], table[i + 2, 1] - table[i + 1, 1])
        /(table[i + 2, 1] - table[i + 1, 1]);
    end if;
  end for;
end linear2;
