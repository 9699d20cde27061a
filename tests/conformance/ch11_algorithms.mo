//# statements in order
//: y = 7
model M Real y; algorithm y := 1; y := y + 2; y := 2*y + 1; end M;

//# for with accumulation
//: s = 55
model M Real s; algorithm s := 0; for i in 1:10 loop s := s + i; end for; end M;

//# if in an algorithm
//: y = where(t < 0.5, 2*t, 1)
model M Real y; algorithm if time < 0.5 then y := 2*time; else y := 1; end if; end M;

//# while with a fixed end
//: n = 6
model M Real n; algorithm n := 1; while n < 6 loop n := n + 1; end while; end M;

//# when in an algorithm
//: n = where(t < 0.4, 0, 1)
model M Integer n(start = 0, fixed = true); algorithm when time > 0.4 then n := n + 1; end when; end M;

//# when with elsewhen in an algorithm
//: y = where(t < 0.3, 0, where(t < 0.6, 5, 8))
model M discrete Real y(start = 0, fixed = true); algorithm when time > 0.6 then y := 8; elsewhen time > 0.3 then y := 5; end when; end M;

//# several statements under one when
//: a = where(t < 0.5, 0, 3)
//: b = where(t < 0.5, 0, 6)
model M discrete Real a(start = 0, fixed = true), b(start = 0, fixed = true); algorithm when time > 0.5 then a := 3; b := 2*a; end when; end M;

//# assigning elements of an array
//: s = 30
model M Real v[4]; Real s = sum(v); algorithm for i in 1:4 loop v[i] := i^2; end for; end M;

//# sampled algorithm with memory
//: y = 0.5**(1 + floor(10*t + 1e-9))
model M discrete Real y(start = 1, fixed = true); algorithm when sample(0, 0.1) then y := 0.5*y; end when; end M;

//# algorithm feeding a state
//: x = 3*t
model M Real x(start = 0, fixed = true), u; algorithm u := 1; u := u + 2; equation der(x) = u; end M;

//# multiple outputs assigned
//: a = 3
//: b = 4
model M function f input Real x; output Real p, q; algorithm p := x; q := x + 1; end f; Real a, b; algorithm (a, b) := f(3); end M;

//# assert in an algorithm
//: error too fast
model M Real y; algorithm y := 2*time; assert(y < 1, "too fast"); end M;

//# assigning something unknown
//: error cannot be assigned
model M algorithm x := 1; end M;

//# assigning a parameter
//: error cannot be assigned
model M parameter Real p = 1; algorithm p := 2; end M;
