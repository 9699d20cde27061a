within Movrel;
package Tables "Tables: values between the rows of measured or tabulated data"
  annotation (Documentation(info="<html>
<p>The first column of a table holds the argument and increases from row to row; the other columns hold
values. Beyond its ends a table keeps its first and last values.</p>
</html>"));
end Tables;
