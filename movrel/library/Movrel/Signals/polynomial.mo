within Movrel.Signals;
function polynomial "Coefficients of the polynomial with given roots, highest power first"
  input Real x[:] "Real parts of the roots";
  input Real y[size(x, 1)] "Imaginary parts of the roots";
  output Real c[size(x, 1) + 1] "Coefficients";
protected
  Real re[size(x, 1) + 1] "Real parts";
  Real im[size(x, 1) + 1] "Imaginary parts";
  Real a "Real part before";
  Real b "Imaginary part before";
algorithm
  re := zeros(size(x, 1) + 1);
  im := zeros(size(x, 1) + 1);
  re[1] := 1;
  for k in 1:size(x, 1) loop
    for i in k + 1:-1:2 loop
      a := re[i - 1];
      b := im[i - 1];
      re[i] := re[i] - (a*x[k] - b*y[k]);
      im[i] := im[i] - (a*y[k] + b*x[k]);
    end for;
  end for;
  assert(sum(abs(im)) <= 1e-9*(1 + sum(abs(re))), "complex zeros and poles must come in pairs");
  c := re;
  annotation (
    Documentation(info="<html><p>The product of (s - root), multiplied out.</p></html>"));
end polynomial;
