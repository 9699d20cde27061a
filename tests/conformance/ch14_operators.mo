//# arithmetic of an operator record
//: c.re = 7
//: c.im = 5
//: d.im = -2
//: e.re = 1.5
//: e.im = 6.5
//: f.re = 5
//: f.im = 5
//: g.re = 2
//: g.im = 4
//: h.im = 3
//: k.re = -3*t
//: s.re = 3
model M
  operator record C Real re, im;
    operator 'constructor' function real input Real re; input Real im = 0; output C c(re = re, im = im); algorithm end real; end 'constructor';
    operator function '+' input C a, b; output C c; algorithm c := C(a.re + b.re, a.im + b.im); end '+';
    operator '-' function negate input C a; output C c; algorithm c := C(-a.re, -a.im); end negate;
      function subtract input C a, b; output C c; algorithm c := C(a.re - b.re, a.im - b.im); end subtract; end '-';
    operator function '*' input C a, b; output C c; algorithm c := C(a.re*b.re - a.im*b.im, a.re*b.im + a.im*b.re); end '*';
    operator function '/' input C a, b; output C c; protected Real n = b.re^2 + b.im^2; algorithm c := C((a.re*b.re + a.im*b.im)/n, (a.im*b.re - a.re*b.im)/n); end '/';
    operator function '==' input C a, b; output Boolean y; algorithm y := a.re == b.re and a.im == b.im; end '==';
  end C;
  operator record V = C(re(unit = "V"), im(unit = "V"));
  constant C j = C(0, 1);
  C a = C(1, 2), b(re = 3, im = -1), c = a*b + 2, d = -a, e = 3*a - b/2;
  C v[2] = {C(1, 1), C(2)}, w[2] = v + {C(1), j}, f = v*w, m[2] = [C(1), j; j, C(2)]*v, g = m[1] + j/C(1) + 1 - {C(0), C(2)}*v + C(4);
  C h = if a == C(1, 2) then C(0, 3) else a;
  C k = C(time, 0)*V(-3), s = sum(v);
end M;

//# a phasor behind a reactance feeds a load of constant power
//: u = 1.0381154161900528
//: delta = 6.28*(t + 0.05*(1 - cos(t)))
//: stop 10
//: tol 1e-7
model M
  operator record C Real re, im;
    operator function '-' input C a, b; output C c; algorithm c := C(a.re - b.re, a.im - b.im); end '-';
    operator function '*' input C a, b; output C c; algorithm c := C(a.re*b.re - a.im*b.im, a.re*b.im + a.im*b.re); end '*';
    operator function '/' input C a, b; output C c; algorithm c := C((a.re*b.re + a.im*b.im)/(b.re^2 + b.im^2), (a.im*b.re - a.re*b.im)/(b.re^2 + b.im^2)); end '/';
  end C;
  function polar input Real r, phi; output C c; algorithm c := C(r*cos(phi), r*sin(phi)); end polar;
  function conjugate input C a; output C c; algorithm c := C(a.re, -a.im); end conjugate;
  parameter C Z = C(0.05, 0.3), S = C(0.5, 0.1);
  Real delta(start = 0, fixed = true), f = 1 + 0.05*sin(time), u = sqrt(v.re^2 + v.im^2); C v(re(start = 1), im(start = 0)), i;
equation
  der(delta) = 6.28*f; i = (polar(1.1, delta) - v)/Z; S = v*conjugate(i);
end M;

//# an operator that is not defined
//: error '*' is not defined for C and number
model M operator record C Real re, im; operator function '+' input C a, b; output C c; algorithm c := C(a.re + b.re, a.im + b.im); end '+'; end C;
  C a = C(1, 2), b = a*2; end M;

//# no constructor fits
//: error no constructor of 'C' takes String
model M operator record C Real re, im; operator 'constructor' function real input Real x; output C c; algorithm c.re := x; c.im := 0; end real; end 'constructor'; end C;
  C a = C("one"); end M;
