//# constructors and ranges
//: s = 15
//: r = 9
//: d = 2.5
model M Real a[5] = 1:5; Real s = sum(a); Real b[3] = 1:2:5; Real r = sum(b); Real c[3] = {0.5, 0.5, 1.5}; Real d = sum(c); end M;

//# matrix constructor and concatenation
//: s = 21
//: t = 12
model M Real a[2, 3] = [1, 2, 3; 4, 5, 6]; Real s = sum(a); Real b[3, 2] = cat(1, [1, 2], [3, 1; 2, 3]); Real t = sum(b); end M;

//# comprehension
//: s = 14
//: p = 24
model M Real s = sum(i^2 for i in 1:3); Real p = product(i for i in 1:4); end M;

//# comprehension over an array
//: m = 16
model M parameter Real a[3] = {1, 4, -2}; Real m = max(x^2 for x in a); end M;

//# slices
//: s = 5
//: c = 12
//: e = 6
model M parameter Real a[2, 3] = [1, 2, 3; 4, 5, 6]; Real s = sum(a[1, 2:3]); Real c = a[1, end]*a[2, 1]; Real e = a[end, end]; end M;

//# whole columns
//: s = 7
model M parameter Real a[2, 3] = [1, 2, 3; 4, 5, 6]; Real s = sum(a[:, 2]); end M;

//# products of vectors and matrices
//: d = 32
//: x[1] = 14
//: x[2] = 32
//: y[3] = 15
//: z[1,1] = 9
model M parameter Real a[2, 3] = [1, 2, 3; 4, 5, 6]; parameter Real v[3] = {1, 2, 3}; Real d = v*{4, 5, 6}; Real x[2] = a*v; Real y[3] = {1, 2}*a; Real z[2, 2] = a*[1, 0; 1, 0; 2, 1]; end M;

//# element operators
//: s = 14
//: q = 4
//: p = 14
model M Real a[3] = {1, 2, 3} .* {1, 2, 3}; Real s = sum(a); Real q = sum({2, 4, 6} ./ {1, 4, 6}); Real p = sum({1, 2, 3} .^ 2); end M;

//# scalar with array
//: s = 12
//: r = 9
model M Real s = sum(2*{1, 2, 3}); Real r = sum({1, 2, 3} .+ 1); end M;

//# identity, zeros, ones, fill, linspace
//: a = 3
//: b = 4
//: c = 6
//: d = 1.5
model M Real a = sum(identity(3)); Real b = sum(ones(2, 2)) + sum(zeros(5)); Real c = sum(fill(2, 3)); Real l[5] = linspace(0, 2, 5); Real d = l[4]; end M;

//# transpose, symmetric, outer product
//: a = 3
//: b = 2
//: c = 12
model M parameter Real m[2, 2] = [1, 2; 3, 4]; Real n[2, 2] = transpose(m); Real a = n[1, 2]; Real k[2, 2] = symmetric(m); Real b = k[2, 1]; Real o[2, 2] = outerProduct({1, 2}, {5, 6}); Real c = o[2, 2]; end M;

//# cross and skew
//: c[3] = 1
//: d[3] = 1
model M Real c[3] = cross({1, 0, 0}, {0, 1, 0}); Real d[3] = skew({1, 0, 0})*{0, 1, 0}; end M;

//# diagonal, vector, scalar, matrix
//: a = 6
//: b = 5
//: c = 3
model M Real a = sum(diagonal({1, 2, 3})); Real b = scalar({5}); Real v[2] = vector([1; 2]); Real c = sum(v); end M;

//# matrix power
//: a = 7
model M Real m[2, 2] = [1, 2; 3, 4]^2; Real a = m[1, 1]; end M;

//# arrays of components with an array of results
//: s = 14
package P model A parameter Real p = 1; Real y = p^2; end A; model M A a[3](p = 1:3); Real s = sum(a.y); end M; end P;

//# matrix of components
//: s = 10
package P model A parameter Real p = 1; end A; model M A a[2, 2](p = [1, 2; 3, 4]); Real s = sum(a.p); end M; end P;

//# size from another array
//: s = 6
model M parameter Real a[:] = {1, 2, 3}; Real b[size(a, 1)] = a; Real s = sum(b); end M;

//# derivative of an array
//: x[2] = 2*t
model M Real x[2](each start = 0, each fixed = true); equation der(x) = {1, 2}; end M;

//# state space with matrices
//: x[1] = cos(t)
//: stop 3
model M parameter Real A[2, 2] = [0, 1; -1, 0]; Real x[2](start = {1, 0}, each fixed = true); equation der(x) = A*x; end M;

//# empty arrays
//: s = 0
//: n = 0
model M parameter Integer k = 0; Real a[k]; Real s = sum(a); Real n = size(a, 1); end M;

//# sizes that differ
//: error do not go together
model M Real a[3] = {1, 2, 3} + {1, 2}; end M;

//# wrong number of elements
//: error 2 elements where 3 are needed
model M Real a[3] = {1, 2}; end M;

//# subscript outside
//: error outside 1 to 3
model M parameter Real a[3] = {1, 2, 3}; Real x = a[4]; end M;

//# product of sizes that do not fit
//: error not defined
model M Real x[2] = [1, 2; 3, 4]*{1, 2, 3}; end M;

//# array where a single value is needed
//: error array of size
model M Real x = {1, 2}; end M;

//# negative size
//: error must be a whole number
model M parameter Integer n = -1; Real x[n]; end M;

//# size that varies
//: error varies in time
model M Real n = time; Real x[integer(n)]; end M;

//# a subscript that varies
//: y = where(t < 0.3, 10, where(t < 0.6, 20, 30))
model M Integer k = if time < 0.3 then 1 elseif time < 0.6 then 2 else 3; Real v[3] = {10, 20, 30}; Real y = v[k]; end M;

//# assigning an element whose number varies
//: s = where(t < 0.5, 5, 7)
//: a = where(t < 0.5, 5, 1)
model M Integer k = if time < 0.5 then 1 else 2; Real v[2]; Real s, a; algorithm v := {1, 0}; v[k] := if k == 1 then 5 else 6; equation s = sum(v); a = v[1]; end M;

//# a varying subscript outside
//: error is not a finite number
model M Integer k = if time < 0.5 then 1 else 4; Real v[3] = {1, 2, 3}; Real y = v[k]; end M;
