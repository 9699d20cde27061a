//# a clocked when
//: x = 0.5**(1 + floor(2*t + 1e-9))
//: stop 2
model M discrete Real x(start = 1, fixed = true); equation when Clock(0.5) then x = 0.5*previous(x); end when; end M;

//# a clock with a rational interval
//: n = 1 + floor(4*t + 1e-9)
model M Integer n(start = 0, fixed = true); Clock c = Clock(1, 4); equation when c then n = previous(n) + 1; end when; end M;

//# a value is sampled, worked out at ticks and held
//: y = 0.5*floor(4*t + 1e-9)
model M Real y; Real s; Real d; equation s = sample(time, Clock(0.25)); d = 2*s; y = hold(d); end M;

//# sample takes the value before a jump at the same instant
//: y = where(t < 0.75 - 1e-9, 0, 1)
model M Real y = hold(sample(if time >= 0.5 then 1.0 else 0.0, Clock(0.25))); end M;

//# slower, faster, shifted and moved back
//: slow = 0.9*floor(t/0.9 + 1e-9)
//: fast = 0.3*floor(t/0.3 + 1e-9)
//: late = where(t < 0.1 - 1e-9, 7, 0.3*floor((t - 0.1)/0.3 + 1e-9))
//: back = where(t < 0.3 - 1e-9, 7, 0.3*floor(t/0.3 + 1e-9) - 0.3)
//: stop 2.8
model M Real u = sample(time, Clock(3, 10)); Real y1(start = 7) = shiftSample(u, 1, 3); Real y2(start = 7) = backSample(y1, 1, 3);
 Real slow = hold(subSample(u, 3)); Real fast = hold(superSample(u, 2)); Real late = hold(y1); Real back = hold(y2); end M;

//# a faster clock ticks more often
//: n = 1 + floor(10*t + 1e-9)
//: m = 1 + 5*floor(2*t + 1e-9)
model M Clock c = Clock(0.5); Clock f = superSample(c, 5); Integer n(start = 0); Integer m(start = 0); equation when f then n = previous(n) + 1; end when; m = subSample(n, 5); end M;

//# the clock of what is read is inferred backwards
//: n = 1 + floor(8*t + 1e-9)
//: z = 1 + 4*floor(2*t + 1e-9)
model M Integer n(start = 0); Integer k; Integer z; equation n = previous(n) + 1; k = subSample(n, 4); when Clock(0.5) then z = k; end when; end M;

//# a factor that is inferred
//: z = 1 + 4*floor(2*t + 1e-9)
model M Integer n(start = 0); Integer z(start = 0); equation when Clock(1, 8) then n = previous(n) + 1; end when; when Clock(1, 2) then z = subSample(n); end when; end M;

//# a clock that ticks when something becomes true
//: n = floor(t + 0.25 + 1e-9)
//: dt = where(t < 0.75, 0, where(t < 1.75, 3, 1))
//: stop 4.1
model M Real x(start = 0, fixed = true); Integer n(start = 0); Real dt(start = 0); equation der(x) = 1; when Clock(x - hold(n) > 0.75, startInterval = 3) then n = previous(n) + 1; dt = interval(); end when; end M;

//# every third tick of such a clock, after the first
//: n = where(t < 1.75 - 1e-9, 0, 1 + floor((t - 1.75)/3 + 1e-9))
//: stop 9.1
model M Real x(start = 0, fixed = true); Clock c = Clock(x - hold(k) > 0.75); Clock d = shiftSample(c, 1); Clock e = subSample(d, 3); Integer k(start = 0); Integer n(start = 0);
equation der(x) = 1; when c then k = previous(k) + 1; end when; when e then n = previous(n) + 1; end when; end M;

//# an interval that varies
//: n = 1 + where(t >= 0.1 - 1e-9, 1, 0) + where(t >= 0.3 - 1e-9, 1, 0) + where(t >= 0.6 - 1e-9, 1, 0)
//: dt = where(t >= 0.1 - 1e-9, 0.1, 0) + where(t >= 0.3 - 1e-9, 0.1, 0) + where(t >= 0.6 - 1e-9, 0.1, 0)
//: stop 0.97
model M Integer n(start = 0); Real dt(start = 0); equation when Clock(n, 10) then n = previous(n) + 1; dt = interval(); end when; end M;

//# first ticks and intervals
//: a = where(t < 0.2 - 1e-9, 5, 0.2)
model M Real a; equation when Clock(0.2) then a = if firstTick() then 5 else interval(a); end when; end M;

//# equations that tick are solved together
//: p = (3*floor(2*t + 1e-9)/2 + 1)/2
model M Real u = sample(time, Clock(0.5)); Real p; Real q; equation p + q = 3*u + 1; p - q = 0; end M;

//# a controller in a component, its clock given elsewhere
//: h = (3 + 6*(1 + floor(4*t + 1e-9)))*0.5**(1 + floor(4*t + 1e-9))
model M block Half input Real u; output Real y(start = 6); equation y = 0.5*previous(y) + u; end Half;
 block Hold input Real u; output Real y; equation y = hold(u); end Hold; Half a; Half b(y(start = 3)); Hold o; Real h = o.y;
equation a.u = sample(if time < 0 then 1.0 else 0.0, Clock(0.25)); connect(a.y, b.u); connect(b.y, o.u); end M;

//# clocks pass through connectors
//: n = 1 + floor(4*t + 1e-9)
model M connector In = input Clock; connector Out = output Clock; block Source Out c; equation c = Clock(1, 4); end Source; block Count In c; Integer n(start = 0); equation when c then n = previous(n) + 1; end when; end Count;
 Source s; Count k; Integer n = k.n; equation connect(s.c, k.c); end M;

//# what another base clock gives is read without delay
//: y = floor(10*t + 1e-9) + 1
model M Integer n(start = 0); Integer k; Integer y = hold(k); equation when Clock(0.1) then n = previous(n) + 1; end when; when Clock(0.05) then k = noClock(n); end when; end M;

//# implicit Euler from tick to tick
//: x = 1.1**(-floor(10*t + 1e-9))
//: tol 1e-9
model M Clock c = Clock(Clock(0.1), "ImplicitEuler"); Real x(start = 1); equation der(x) = -x*sample(1.0, c); end M;

//# explicit Euler uses what was
//: x = 0.9**floor(10*t + 1e-9)
//: tol 1e-9
model M Clock c = Clock(Clock(0.1), solverMethod = "ExplicitEuler"); Real x(start = 1); equation der(x) = -x*sample(1.0, c); end M;

//# the trapezoid
//: x = (0.95/1.05)**floor(10*t + 1e-9)
//: tol 1e-9
model M Clock c = Clock(Clock(0.1), "ImplicitTrapezoid"); Real x(start = 1); equation der(x) = -x*sample(1.0, c); end M;

//# the midpoint rule, with the input in the middle of its values
//: x = (0.1*floor(10*t + 1e-9))**2
//: z = 0.905**floor(10*t + 1e-9)
//: tol 1e-9
model M Clock c = Clock(Clock(0.1), "ExplicitMidPoint2"); Real x(start = 0); Real z(start = 1); Real w; equation der(x) = 2*sample(time, c); w = -z; der(z) = w*sample(1.0, c); end M;

//# Runge and Kutta's method of order four
//: x = (0.1*floor(10*t + 1e-9))**2
//: z = (1 - 0.1 + 0.1**2/2 - 0.1**3/6 + 0.1**4/24)**floor(10*t + 1e-9)
//: tol 1e-9
model M Clock c = Clock(Clock(0.1), "ExplicitRungeKutta4"); Real x(start = 0); Real z(start = 1); equation der(x) = 2*time*sample(1.0, c); der(z) = -z*sample(1.0, c); end M;

//# any equations stand in a clocked when
//: h = 1.5*0.25*floor(4*t + 1e-9) + 0.5
//: g = (1 - 0.1)**floor(10*t + 1e-9)
//: v = 1.5**(floor(4*t + 1e-9) + 1)
//: tol 1e-9
model M Real a, b, h = hold(a), w[2](each start = 1), v = hold(w[2]), x(start = 1), g = hold(x);
equation
  when Clock(0.25) then a + b = 3*sample(time); a - b = 1; for i in 1:2 loop 2*w[i] = 3*previous(w[i]); end for; assert(a < 5, "high"); end when;
  when Clock(Clock(0.1), solverMethod = "ExplicitEuler") then der(x) = -x; end when;
end M;

//# what ticks depends on each other
//: h = 1.5*0.25*floor(4*t + 1e-9) + 0.5
//: d = 3*0.25*floor(4*t + 1e-9) + 1
//: tol 1e-9
model M Real a, b, c, h = hold(a), d = hold(c); equation a + b = sample(time, Clock(0.25))*3; a - b = 1; c = a + b + 1; end M;

//# a clocked when has no elsewhen
//: error has an 'elsewhen'
model M Real a; equation when Clock(0.1) then 2*a = 1; elsewhen Clock(0.2) then a = 2; end when; end M;

//# a state machine ticks with what it reads
//: y = where(t < 0.4 - 1e-9, 1, 2)
model M block S end S; S a, b; Real u = sample(time, Clock(0.1)); Integer y; equation initialState(a); transition(a, b, u > 0.3 + 1e-9); y = if activeState(a) then 1 else 2; end M;

//# previous without a clock is refused
//: error nothing says when 'n' ticks
model M Integer n(start = 0, fixed = true); equation n = previous(n) + 1; end M;

//# two clocks meet
//: error ticks with Clock(0.1) and with Clock(0.2)
model M Real a = sample(time, Clock(0.1)); Real b = sample(time, Clock(0.2)); Real c = a + b; end M;

//# a derivative among what ticks
//: error a derivative stands among equations that tick
model M Real x(start = 0); Real s = sample(x, Clock(0.1)); Real u; equation u = previous(u) + s; der(x) = -u; end M;

//# an equation is missing
//: error has 1 equations for 2 unknowns
model M Real s; Real d; Real y = hold(s); equation s + d = sample(time, Clock(0.1)); end M;

//# begun before the run
//: error would begin before the run
model M Real u = sample(time, Clock(0.1)); Real b = backSample(u, 1); end M;

//# an unknown method
//: error the solver method 'Magic' of a clock is not known
model M Clock c = Clock(Clock(0.1), "Magic"); Integer n(start = 0); equation when c then n = previous(n) + 1; end when; end M;

//# faster than a condition
//: error would tick between ticks that nobody knows
model M Clock c = superSample(Clock(time > 0.5), 2); Integer n(start = 0); equation when c then n = previous(n) + 1; end when; end M;

//# a clock is no number
//: error is of type Clock
model M Clock c = 3; Integer n(start = 0); equation when c then n = previous(n) + 1; end when; end M;
