within Movrel.Tables;
function cubic "Cubic pieces between the rows of a table, without overshoot and without kinks"
  input Real table[:, :] "Argument in the first column, values in the others";
  input Real u "Argument";
  input Integer column = 2 "Column of the value";
  output Real y "Value at the argument";
protected
  Integer n = size(table, 1);
  Real h[size(table, 1) - 1] "Widths of the intervals";
  Real s[size(table, 1) - 1] "Slopes of the straight pieces";
  Real d[size(table, 1)] "Slopes at the rows";
  Real z "Place within an interval, 0 to 1";
algorithm
  for i in 1:n - 1 loop
    assert(table[i + 1, 1] > table[i, 1], "the first column of a table does not increase after row " + String(i));
    h[i] := table[i + 1, 1] - table[i, 1];
    s[i] := (table[i + 1, column] - table[i, column])/h[i];
  end for;
  d[1] := s[1];
  d[n] := s[n - 1];
  for i in 2:n - 1 loop
    if s[i - 1]*s[i] > 0 then
      d[i] := 3*(h[i - 1] + h[i])/((2*h[i] + h[i - 1])/s[i - 1] + (h[i] + 2*h[i - 1])/s[i]);
    else
      d[i] := 0;
    end if;
  end for;
  y := table[1, column];
  for i in 1:n - 1 loop
    if u > table[i, 1] then
      z := (u - table[i, 1])/h[i];
      y := table[i, column] + h[i]*z*(d[i] + z*(3*s[i] - 2*d[i] - d[i + 1] + z*(d[i] + d[i + 1] - 2*s[i])));
    end if;
  end for;
  if u > table[n, 1] then
    y := table[n, column];
  end if;
  annotation (Documentation(info="<html><p>Piecewise cubic Hermite interpolation with the slopes of Fritsch and
Butland, SIAM J. Sci. Stat. Comput. 5 (1984): where the data rise or fall, so does the curve.</p></html>"));
end cubic;
