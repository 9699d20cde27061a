//# a first-order lag
//: x = 1 - exp(-t/0.2)
model M Real x(start = 0, fixed = true); equation 0.2*der(x) + x = 1; end M;

//# oscillator
//: x = cos(2*t)
//: v = -2*sin(2*t)
//: stop 5
model M Real x(start = 1, fixed = true), v(start = 0, fixed = true); equation der(x) = v; der(v) = -4*x; end M;

//# second derivative
//: x = cos(3*t)
//: stop 3
model M Real x(start = 1, fixed = true); Real v(start = 0, fixed = true); equation v = der(x); der(der(x)) = -9*x; end M;

//# for equations with a parameter bound
//: x[4] = 4*t
//: s = 10*t
model M parameter Integer n = 4; Real x[n]; Real s = sum(x); equation for i in 1:n loop x[i] = i*time; end for; end M;

//# nested for
//: s = 60
model M Real a[3, 4]; Real s = sum(a); equation for i in 1:3, j in 1:4 loop a[i, j] = i*j; end for; end M;

//# if equation decided by a parameter
//: x = 2*t
model M parameter Boolean fast = true; Real x(start = 0, fixed = true); equation if fast then der(x) = 2; else x = 5; end if; end M;

//# if equation that varies in time
//: x = where(t < 0.5, t, 0.5 - 2*(t - 0.5))
model M Real x(start = 0, fixed = true); equation if time < 0.5 then der(x) = 1; else der(x) = -2; end if; end M;

//# linear loop
//: x = 1 + t
//: y = 2 - t
model M Real x, y; equation x + y = 3; x - y = 2*time - 1; end M;

//# nonlinear loop
//: x = 2
//: y = 3
model M Real x(start = 1.5), y(start = 3.5); equation x*y = 6; x + y = 5; end M;

//# one nonlinear equation that moves
//: x = sqrt(1 + t)
model M Real x(start = 1); equation x^2 = 1 + time; end M;

//# when with elsewhen
//: y = where(t < 0.3, 0, where(t < 0.7, 1, 2))
model M discrete Real y(start = 0, fixed = true); equation when time > 0.7 then y = 2; elsewhen time > 0.3 then y = 1; end when; end M;

//# when with a vector of conditions
//: n = where(t < 0.2, 0, where(t < 0.6, 1, 2))
model M Integer n(start = 0, fixed = true); equation when {time > 0.2, time > 0.6} then n = pre(n) + 1; end when; end M;

//# reinit
//: x = where(t < 0.5, t, 10 + t - 0.5)
model M Real x(start = 0, fixed = true); equation der(x) = 1; when time > 0.5 then reinit(x, 10); end when; end M;

//# reinit uses the value before the event
//: x = where(t < 0.5, t, 1 + t - 0.5)
model M Real x(start = 0, fixed = true); equation der(x) = 1; when time > 0.5 then reinit(x, 2*pre(x)); end when; end M;

//# terminate ends the run in time
//: x = t
//: stop 3
model M Real x(start = 0, fixed = true); equation der(x) = 1; when x > 1 then terminate("far enough"); end when; end M;

//# hysteresis with discrete state
//: stop 3
//: x = where(t < 1, t, where(t < 1.5, 2 - t, where(t < 2, t - 1, where(t < 2.5, 3 - t, t - 2))))
model M Real x(start = 0, fixed = true); Boolean up(start = true, fixed = true); equation der(x) = if up then 1 else -1; up = if pre(up) then x < 1 else x <= 0.5; end M;

//# initial equation for the steady state
//: x = 4
model M Real x; equation der(x) = 2 - 0.5*x; initial equation der(x) = 0; end M;

//# initial equation instead of a start value
//: x = 3*exp(-t)
model M Real x(start = 99); equation der(x) = -x; initial equation x^2 = 9; end M;

//# start value used where nothing else says
//: x = 7*exp(-t)
model M Real x(start = 7); equation der(x) = -x; end M;

//# fixed start of an algebraic variable
//: x = 4*exp(-t)
//: y = 8*exp(-t)
model M Real x, y(start = 8, fixed = true); equation der(x) = -x; y = 2*x; end M;

//# initial of a discrete variable
//: d = where(t < 0.5, 3, 4)
model M discrete Real d; equation when time > 0.5 then d = pre(d) + 1; end when; initial equation d = 3; end M;

//# initial algorithm
//: x = 5*exp(-t)
model M Real x; equation der(x) = -x; initial algorithm x := 5; end M;

//# two states tied together
//: x = 0.5*t
//: y = 0.25*t
model M Real x(start = 0, fixed = true), y, f; equation der(x) = 1 - f; der(y) = f/2; x = 2*y; end M;

//# a constraint on positions of two masses
//: x1 = 0.5*0.5*t**2
//: stop 2
model M Real x1(start = 0, fixed = true), v1(start = 0, fixed = true), x2, v2, f; equation der(x1) = v1; der(x2) = v2; 1*der(v1) = 1 - f; 1*der(v2) = f; x1 = x2; end M;

//# missing equation
//: error no equation determines y
model M Real x = 1; Real y; end M;

//# one equation too many
//: error given twice
model M Real x; equation x = 1; x = 2; end M;

//# something twice and something open
//: error unknowns
model M Real x, y; equation x = 1; x = time; end M;

//# unequal branches
//: error equations
model M Real x, y; equation if time > 0.5 then x = 1; y = 2; else x = 2; end if; end M;

//# contradictory start
//: error start of the model
model M Real x(start = 1, fixed = true), y(start = 3, fixed = true); equation der(x) = 1; y = 2*x; end M;

//# no start that fits
//: error no solution
model M Real x(start = 1); equation x^2 + 1 = 0*time; end M;

//# set in one branch only
//: error one branch
model M discrete Real a(start = 0), b(start = 0); equation when time > 0.5 then a = 1; b = 1; elsewhen time > 0.7 then a = 2; end when; end M;

//# reinit of an algebraic variable
//: error reinit
model M Real x = time; equation when time > 0.5 then reinit(x, 1); end when; end M;

//# Boolean circle without pre
//: error pre
model M Boolean a, b; equation a = not b; b = not a or time > 2; end M;

//# when inside a varying if
//: error 'when'
model M Real x(start = 0); equation if time > 0.5 then when time > 0.7 then x = 1; end when; else x = 2; end if; end M;
