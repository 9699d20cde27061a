within Movrel.Signals;
type Elementary = enumeration(sin, cos, tan, asin, acos, atan, exp, log, log10, sqrt, tanh, square, reciprocal, sign)
  "Functions of one variable";
