//# two states that alternate
//: on.active = where(t - 2*floor(t/2 + 1e-9) < 1 - 1e-9, 1, 0)
//: stop 5.5
model M block S end S; S on, off; Clock c = Clock(0.5); equation initialState(on); transition(on, off, ticksInState() >= 2, immediate = false); transition(off, on, ticksInState() >= 2, immediate = false); end M;

//# states that count up and down
//: v = where(t < 4.99, minimum(1 + floor(t + 1e-9), 5), 4)
//: stop 5.5
model M inner Integer v(start = 0, fixed = true); block Up outer output Integer v; equation v = previous(v) + 1; end Up; block Down outer output Integer v; equation v = previous(v) - 1; end Down;
 Up up; Down down; equation initialState(up); transition(up, down, v >= 5, immediate = false); end M;

//# priority decides
//: y = where(t < 0.99, 0, 2)
//: stop 3
model M block S end S; S a, b, c; Real y; equation initialState(a); transition(a, b, true, immediate = false, priority = 2); transition(a, c, true, immediate = false, priority = 1); y = if activeState(b) then 1 elseif activeState(c) then 2 else 0; end M;

//# reset brings the start value back
//: n = where(t < 0.95, 1 + floor(5*t + 1e-9), 1 + floor(5*(t - 1.2) + 1e-9)*where(t > 1.15, 1, 0) + where(t > 1.15, 0, where(t > 0.95, 4, 0)))
//: stop 1.1
model M block Count Integer n(start = 0, fixed = true); equation n = previous(n) + 1; end Count; block Rest end Rest; Count count; Rest rest; Integer n = count.n; Clock c = Clock(0.2);
 equation initialState(count); transition(count, rest, count.n >= 5, immediate = false); transition(rest, count, true, immediate = false); end M;

//# no initial state
//: error 0 initial states
model M block S end S; S a, b; equation transition(a, b, true); transition(b, a, true); end M;

//# an initial state without a name
//: error needs the state in which the machine begins
model M block S end S; S a, b; equation initialState(); transition(a, b, true); end M;

//# a component inside a state
//: error only variables, equations and states
model M model Part Real x = 1; end Part; block S Part p; end S; S a, b; equation initialState(a); transition(a, b, true); end M;

//# a state that is none
//: error is not a state
model M block S end S; S a, b, c; Real y = if activeState(c) then 1 else 0; equation initialState(a); transition(a, b, true); end M;
