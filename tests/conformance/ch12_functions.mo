//# a function
//: y = 1 + 2*t + 3*t**2
model M function poly input Real x; input Real c[:]; output Real y; algorithm y := 0; for i in size(c, 1):-1:1 loop y := y*x + c[i]; end for; end poly; Real y = poly(time, {1, 2, 3}); end M;

//# default and named arguments
//: a = 5
//: b = 7
model M function f input Real x; input Real y = 2; output Real z; algorithm z := x + y; end f; Real a = f(3); Real b = f(y = 4, x = 3); end M;

//# several outputs
//: r = 5
//: s = 6
model M function f input Real x, y; output Real r, s; algorithm r := sqrt(x^2 + y^2); s := x*y/2; end f; Real r, s; equation (r, s) = f(3, 4); end M;

//# first output only
//: r = 5
model M function f input Real x; output Real r, s; algorithm r := x; s := 2*x; end f; Real r = f(5); end M;

//# a skipped output
//: s = 10
model M function f input Real x; output Real r, s; algorithm r := x; s := 2*x; end f; Real s; equation (, s) = f(5); end M;

//# break leaves the loop
//: y = 4
model M function f input Real x; output Integer n; algorithm n := 0; for i in 1:10 loop if i^2 > x then break; end if; n := i; end for; end f; Real y = f(20); end M;

//# break under a condition that varies
//: y = floor(sqrt(20*t + 0.5))
model M function f input Real x; output Real n; algorithm n := 0; for i in 1:10 loop if i^2 > x then break; end if; n := i; end for; end f; Real y = f(20*time + 0.5); end M;

//# return under a condition that varies
//: y = minimum(t, 0.5)
model M function f input Real x; output Real y; algorithm y := 0.5; if x > 0.5 then return; end if; y := x; end f; Real y = f(time); end M;

//# while with a varying condition
//: y = floor(10*t)
model M function f input Real x; output Real n; algorithm n := 0; while n + 1 <= x loop n := n + 1; end while; end f; Real y = f(10*time + 1e-9); end M;

//# Newton's iteration written out
//: y = sqrt(1 + t)
model M function root input Real a; output Real y; algorithm y := a; for i in 1:8 loop y := (y + a/y)/2; end for; end root; Real y = root(1 + time); end M;

//# derivative of a function found automatically
//: y = 3*t**2
model M function cube input Real x; output Real y; algorithm y := x*x*x; end cube; Real x = cube(time); Real y = der(x); end M;

//# recursion
//: y = 120
model M function fact input Integer n; output Integer y; algorithm if n <= 1 then y := 1; else y := n*fact(n - 1); end if; end fact; Real y = fact(5); end M;

//# a function that calls a function
//: y = 16
model M function sq input Real x; output Real y; algorithm y := x^2; end sq; function q input Real x; output Real y; algorithm y := sq(sq(x)); end q; Real y = q(2); end M;

//# records in and out
//: x = 4
//: y = 6
model M record P Real x, y; end P; function add input P a, b; output P c; algorithm c.x := a.x + b.x; c.y := a.y + b.y; end add; P p = add(P(1, 2), P(3, 4)); Real x = p.x, y = p.y; end M;

//# record constructor with defaults
//: y = 9
model M record R Real a = 4; Real b; end R; parameter R r = R(b = 5); Real y = r.a + r.b; end M;

//# protected locals with sizes from inputs
//: y = 20
model M function f input Real v[:]; output Real y; protected Real w[size(v, 1)]; algorithm for i in 1:size(v, 1) loop w[i] := 2*v[i]; end for; y := sum(w); end f; Real y = f({1, 2, 3, 4}); end M;

//# array output
//: s = 12
model M function f input Integer n; output Real v[n]; algorithm v := fill(3, n); end f; Real s = sum(f(4)); end M;

//# function in an implicit equation
//: x = exp(t)
model M function l input Real x; output Real y; algorithm y := log(x); end l; Real x(start = 1); equation l(x) = time; end M;

//# replaceable function
//: y = 8
package P partial function F input Real x; output Real y; end F; function Double extends F; algorithm y := 2*x; end Double; function Quad extends F; algorithm y := 4*x; end Quad;
 model Box replaceable function f = Double constrainedby F; Real y = f(2); end Box; model M Box b(redeclare function f = Quad); Real y = b.y; end M; end P;

//# an external function is refused
//: error external function
model M function f input Real x; output Real y; external "C"; end f; Real y = f(1); end M;

//# an argument is missing
//: error is missing
model M function f input Real x, y; output Real z; algorithm z := x + y; end f; Real z = f(1); end M;

//# too many arguments
//: error takes 1 arguments
model M function f input Real x; output Real z; algorithm z := x; end f; Real z = f(1, 2); end M;

//# no such function
//: error no function 'sine'
model M Real x = sine(1); end M;

//# no such input
//: error has no input 'w'
model M function f input Real x; output Real z; algorithm z := x; end f; Real z = f(w = 1); end M;

//# an output that is never assigned
//: error never assigned
model M function f input Real x; output Real z; end f; Real z = f(1); end M;

//# input assigned
//: error cannot be assigned
model M function f input Real x; output Real z; algorithm x := 1; z := x; end f; Real z = f(1); end M;

//# endless recursion
//: error nested more than
model M function f input Real x; output Real z; algorithm z := f(x); end f; Real z = f(1); end M;

//# assertion inside a function
//: error only positive
model M function f input Real x; output Real z; algorithm assert(x > 0, "only positive"); z := sqrt(x); end f; Real z = f(0.5 - time); end M;

//# a function of single values works on arrays
//: y[3] = 6*t
//: z[2] = 8
//: m[2,1] = 30
//: b[2] = 2*t + 1
//: s[2] = 30
model M type V3 = Real[3]; function f input Real x, k; output Real y, z; algorithm y := k*x; z := y + 1; end f; function n input V3 v; output Real y; protected V3 w; algorithm w := 2*v; y := sum(w); end n;
  Real y[3] = f({1, 2, 3}, 2*time), z[2] = f({1, 2}, {3, 4}), m[2,2] = f([1, 2; 3, 4], 10), a[2], b[2], s[2] = n([1, 2, 3; 4, 5, 6]); equation (a, b) = f({1, 2}, k = time); end M;

//# arrays of different sizes for single values
//: error have different sizes
model M function f input Real x, k; output Real y; algorithm y := k*x; end f; Real y[2] = f({1, 2}, {1, 2, 3}); end M;

//# functions as arguments
//: a = 1/3
//: b = 6
//: c = 2*t + 4
//: d = 2/3
//: tol 1e-4
model M partial function Curve input Real x; output Real y; end Curve; function square extends Curve; algorithm y := x^2; end square; function line extends Curve; input Real k, c = 0; algorithm y := k*x + c; end line;
  function area input Curve f; input Real a, b; input Integer n = 100; output Real s = 0; protected Real h = (b - a)/n; algorithm for i in 1:n loop s := s + f(a + (i - 0.5)*h)*h; end for; end area;
  function both input Curve f; input Real b; output Real s; algorithm s := area(f, 0, b) + area(function f(), 0, b); end both;
  Real a = area(square, 0, 1), b = area(function line(k = 3), 0, 2), c = area(function line(k = time, c = 2), 0, 2), d = both(square, 1); end M;

//# a function is given no such input
//: error 'f' has no input 'w'
model M function f input Real x; output Real y = x; algorithm end f; function g input f h; output Real y; algorithm y := h(1); end g; Real y = g(function f(w = 1)); end M;

//# a number for a function
//: error must be a function
model M function f input Real x; output Real y = x; algorithm end f; function g input f h; output Real y; algorithm y := h(1); end g; Real y = g(3); end M;

//# a function for a number
//: error the function 'f' stands where a value is needed
model M function f input Real x; output Real y = x; algorithm end f; Real y = f + 1; end M;
