within Movrel.Tables;
function read "The numbers of a text file that lies beside the model"
  input String file "Name of the file, in the folder of the model or below it";
  output Real table[:, :] "Its rows and columns";
external "Movrel" table = read_table(file);
  annotation (Documentation(info="<html><p>Columns are parted by commas, semicolons, tabulators or spaces. Lines
without numbers, such as a heading, and what follows # are skipped.</p></html>"));
end read;
