//# precedence of arithmetic
//: a = 14
//: b = -8
//: c = 0.5
//: d = -9
model M Real a = 2 + 3*4; Real b = -2^3; Real c = 2/2/2; Real d = -3^2; end M;

//# power binds a single operand
//: a = 64
model M Real a = (2^3)^2; end M;

//# logic and relations
//: a = 1
//: b = 0
//: c = 1
model M Boolean a = 1 < 2 and not 2 < 1; Boolean b = 1 == 2 or 3 <> 3; Boolean c = not (1 >= 2) and 2 <= 2; end M;

//# if expressions chain
//: y = where(t < 0.25, 1, where(t < 0.5, 2, 3))
model M Real y = if time < 0.25 then 1 elseif time < 0.5 then 2 else 3; end M;

//# integer functions
//: a = 3
//: b = -3
//: c = 1
//: d = -1
//: e = 2
//: f = 3
//: g = -2
model M Real a = div(7, 2); Real b = div(-7, 2); Real c = mod(7, 2); Real d = rem(-7, 2); Real e = mod(-7, 3); Real f = ceil(2.1); Real g = integer(-1.5); end M;

//# elementary functions
//: a = 2
//: b = 1
//: c = 1
//: d = 3
//: e = 1
model M Real a = sqrt(4); Real b = exp(0); Real c = log10(10); Real d = abs(-3); Real e = sign(0.2); end M;

//# trigonometry
//: y = sin(t)**2 + cos(t)**2
//: z = tan(t)
//: w = t
model M Real y = sin(time)^2 + cos(time)^2; Real z = tan(time); Real w = asin(sin(time)); end M;

//# hyperbolic and atan2
//: y = tanh(t)
//: z = t
model M Real y = sinh(time)/cosh(time); Real z = atan2(sin(time), cos(time)); end M;

//# floor of time makes steps
//: y = floor(5*t)
model M Real y = floor(5*time); end M;

//# min and max of two and of an array
//: a = 1
//: b = 3
//: c = 5
model M Real a = min(1, 3); Real b = max(1, 3); Real c = max({2, 5, 4}); end M;

//# smooth and noEvent keep the value
//: y = abs(t - 0.5)
//: z = abs(t - 0.5)
model M Real y = noEvent(if time > 0.5 then time - 0.5 else 0.5 - time); Real z = smooth(0, if time > 0.5 then time - 0.5 else 0.5 - time); end M;

//# der of an expression
//: y = 2*t*sin(t) + t**2*cos(t)
model M Real x = time^2*sin(time); Real y = der(x); end M;

//# der of a product of two states
//: q = 1 + 3*t
//: V = 2 + t
//: c = (2 + 3*t*1)/(2 + t)
model M Real V(start = 2, fixed = true); Real c(start = 1, fixed = true); Real q; equation der(V) = 1; der(V*c) = 3; q = 1 + 3*time; end M;

//# pre and edge count rising edges
//: n = floor(2*t + 0.5)
//: stop 2.2
model M Integer n(start = 0, fixed = true); Boolean b(start = false, fixed = true); equation b = sin(2*3.141592653589793*2*(time - 0.25)) > 0; when edge(b) then n = pre(n) + 1; end when; end M;

//# change sees both directions
//: n = where(t < 0.3, 0, where(t < 0.6, 1, 2))
model M Integer n(start = 0, fixed = true); Boolean b; equation b = time > 0.3 and time < 0.6; when change(b) then n = pre(n) + 1; end when; end M;

//# initial and terminal
//: a = 1
//: e = 5
model M Boolean i = initial(); discrete Real a(start = 0, fixed = true); Real e = 5; equation when initial() then a = 1; end when; end M;

//# sample ticks at its times
//: n = 1 + floor(10*t + 1e-9)
model M Integer n(start = 0, fixed = true); equation when sample(0, 0.1) then n = pre(n) + 1; end when; end M;

//# sample with an offset
//: n = where(t < 0.25, 0, 1 + floor((t - 0.25)/0.5 + 1e-9))
//: stop 2
model M Integer n(start = 0, fixed = true); equation when sample(0.25, 0.5) then n = pre(n) + 1; end when; end M;

//# delay
//: y = where(t < 0.3, 0, sin(5*(t - 0.3)))
model M Real y = delay(sin(5*time), 0.3); end M;

//# homotopy gives the actual value
//: x = 2
model M Real x(start = 1.5); equation homotopy(x^3 - 8, x - 2) = 0; end M;

//# size and ndims
//: a = 3
//: b = 2
//: c = 2
model M Real m[3, 2] = fill(1, 3, 2); Real a = size(m, 1); Real b = size(m, 2); Real c = ndims(m); end M;

//# a relation between a number and a truth value
//: error cannot be compared
model M Boolean b = 1 == true; end M;

//# arithmetic with a truth value
//: error needs numbers
model M Real x = 1 + true; end M;

//# logic with a number
//: error is not true or false
model M Boolean b = true and 3; end M;

//# division by a constant zero
//: error division by zero
model M Real x = 3/0; end M;

//# root of a negative constant
//: error negative
model M Real x = sqrt(-1); end M;

//# the wrong number of arguments
//: error takes 1 arguments
model M Real x = sin(1, 2); end M;

//# the length of a string cannot vary in a number
//: error needs numbers
model M Real x = "a" - 1; end M;
