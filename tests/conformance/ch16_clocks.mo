//# a clocked when
//: x = 0.5**(1 + floor(2*t + 1e-9))
//: stop 2
model M discrete Real x(start = 1, fixed = true); equation when Clock(0.5) then x = 0.5*previous(x); end when; end M;

//# a clock with a rational interval
//: n = 1 + floor(4*t + 1e-9)
model M Integer n(start = 0, fixed = true); Clock c = Clock(1, 4); equation when c then n = previous(n) + 1; end when; end M;

//# previous outside a clock is refused
//: error clocks are not inferred
model M Integer n(start = 0, fixed = true); equation n = previous(n) + 1; end M;
