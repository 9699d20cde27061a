//# syntax: a missing semicolon
//! 2 quay.mo:2:13: ';' is missing at the end of this line. Found 'equation' next.
model Sump
  Real level
equation
  der(level) = 1;
end Sump;

//# syntax: an unclosed bracket
//! 2 quay.mo:2:27: unexpected ';'; expected ')', ','.
model Sump
  Real level = 2*(1 + time;
end Sump;

//# syntax: another name at the end
//! 2 quay.mo:3:5: 'end Pump' closes the class 'Sump'. Write 'end Sump'.
model Sump
  Real level = 1;
end Pump;

//# syntax: assignment in an equation section
//! 2 quay.mo:4:9: unexpected ':='; expected '(', '*' or '/', '+' or '-', ':', ';', '=', ….
model Sump
  Real level;
equation
  level := 1;
end Sump;

//# lookup: a misspelt variable
//! 2 quay.mo:3:17: no variable 'leve' is known here. Did you mean 'level'?
model Sump
  Real level = 1;
  Real area = 2*leve;
end Sump;

//# lookup: a misspelt member
//! 2 quay.mo:5:30: 'basin' (a Basin) has no member 'lvel'. Did you mean 'level'?
package Quay
  model Basin parameter Real area = 2; Real level = 1; end Basin;
  model Sump
    Basin basin;
    Real volume = basin.area*basin.lvel;
  end Sump;
end Quay;

//# lookup: an unknown class
//! 2 quay.mo:2:3: no class 'Bassin' is known here. Load the file that defines it, or correct the name.
model Sump
  Bassin basin;
end Sump;

//# lookup: an unknown function
//! 2 quay.mo:2:12: no function 'squareroot' is known here. Correct the name, or load its package.
model Sump
  Real x = squareroot(4);
end Sump;

//# lookup: a modification of nothing
//! 2 quay.mo:3:26: 'Basin' has no element 'aera' to modify. Did you mean 'area'?
package Quay
  model Basin parameter Real area = 2; end Basin;
  model Sump Basin basin(aera = 3); end Sump;
end Quay;

//# lookup: outer without inner
//! 2 quay.mo:3:21: 'weather' is declared outer, but no enclosing component has an inner 'weather'. Add an inner component 'weather' to the model.
package Quay
  model Weather parameter Real rain = 2; end Weather;
  model Basin outer Weather weather; Real inflow = weather.rain; end Basin;
  model Sump Basin basin; end Sump;
end Quay;

//# type: a truth value in a sum
//! 2 quay.mo:3:12: 'on' is Boolean; '+' needs numbers.
model Sump
  Boolean on = time > 1;
  Real x = 2 + on;
end Sump;

//# type: a condition that is a number
//! 2 quay.mo:2:12: the condition '3' is not true or false. Compare it with something.
model Sump
  Real x = if 3 then 1 else 2;
end Sump;

//# type: a fraction for a whole number
//! 2 quay.mo:2:23: 'n' is of type Integer; its value 2.5 is not. Write a whole number.
model Sump
  parameter Integer n = 2.5;
  Real x[n] = ones(n);
end Sump;

//# type: branches of different type
//! 2 quay.mo:2:12: the branches '1' and 'true' are of different types.
model Sump
  Real x = if time > 1 then 1 else true;
end Sump;

//# arrays: sizes that do not add up
//! 2 quay.mo:3:15: arrays of sizes [3] and [2] do not go together.
model Sump
  Real a[3] = {1, 2, 3};
  Real b[3] = a + {1, 2};
end Sump;

//# arrays: a subscript outside
//! 2 quay.mo:3:12: the subscript 4 is outside 1 to 3.
model Sump
  Real a[3] = {1, 2, 3};
  Real b = a[4];
end Sump;

//# arrays: an equation of different sizes
//! 2 quay.mo:4:3: the sides of this equation have sizes [3] and [2].
model Sump
  Real a[3];
equation
  a = {1, 2};
end Sump;

//# connectors: different kinds
//! 2 quay.mo:5:36: connect(a.p, b.f) joins a Pin and a Flange, which have different variables: i, phi, tau, v. Connect ports of the same kind.
package Quay
  connector Flange Real phi; flow Real tau; end Flange;
  connector Pin Real v; flow Real i; end Pin;
  model Motor Pin p; Flange f; equation p.v = 1; f.tau = p.i; end Motor;
  model Drive Motor a, b; equation connect(a.p, b.f); end Drive;
end Quay;

//# connectors: a component instead of its port
//! 2 quay.mo:4:35: connect(a, b.p): 'a' is a Lamp, not a connector. Connect one of its ports.
package Quay
  connector Pin Real v; flow Real i; end Pin;
  model Lamp Pin p; equation p.v = p.i; end Lamp;
  model Drive Lamp a, b; equation connect(a, b.p); end Drive;
end Quay;

//# connectors: two sources on one signal
//! 2 quay.mo:4:37: connect(a.y, b.y) joins two outputs, 'a.y' and 'b.y'. A signal has one source; connect an output to an input.
package Quay
  connector Out = output Real;
  block Source Out y = 1; end Source;
  model Drive Source a, b; equation connect(a.y, b.y); end Drive;
end Quay;

//# structure: an equation is missing
//! 2 quay.mo:2:22: the model has 2 equations for 3 unknowns after trivial ones are removed: only 2 equations for 3 unknowns (level, outlet.dp, outlet.q): 'outlet.q = 3*outlet.dp' (equation in outlet, line 2); 'der(level) = -outlet.q' (equation, line 3). Add the missing equations.
package Quay
  model Pipe Real q, dp; equation q = 3*dp; end Pipe;
  model Sump Pipe outlet; Real level(start = 1, fixed = true); equation der(level) = -outlet.q; end Sump;
end Quay;

//# structure: an equation too many
//! 2 quay.mo:5:3: the model has 2 equations for 1 unknowns after trivial ones are removed: 2 equations determine 1 unknowns (level): 'der(level) = -q' (equation, line 4); 'q = 2*level' (equation, line 5). Remove or correct one of them.
model Sump
  Real level(start = 1, fixed = true), q;
equation
  der(level) = -q;
  q = 2*level;
  q = 3;
end Sump;

//# structure: something twice, something open
//! 2 quay.mo:6:3: the model has 3 equations for 3 unknowns after trivial ones are removed: 3 equations determine 2 unknowns (a, b): 'a + b = 1' (equation, line 4); 'a - b = 2' (equation, line 5); 'a*b = 3' (equation, line 6). no equation determines c. Something is given twice while something else is left open.
model Sump
  Real a, b, c;
equation
  a + b = 1;
  a - b = 2;
  a*b = 3;
end Sump;

//# structure: branches with different numbers of equations
//! 2 quay.mo:4:3: the branches of this 'if' have 2, 1 equations. While the condition varies in time, every branch (and an else) needs the same number.
model Sump
  Real x, y;
equation
  if time > 1 then
    x = 1;
    y = 2;
  else
    x = 3;
  end if;
end Sump;

//# structure: parameters in a circle
//! 2 quay.mo:2:3: parameters depend on each other in a circle: a → b → a. Give one of them a number.
model Sump
  parameter Real a = b + 1;
  parameter Real b = 2*a;
  Real x = a;
end Sump;

//# structure: a parameter without a value
//! 2 quay.mo:2:3: the parameter 'area' has no value. Give it one.
model Sump
  parameter Real area(unit = "m2");
  Real x = area;
end Sump;

//# structure: a parameter outside its limits
//! 2 quay.mo:2:3: 'area' is -4 m2; its minimum is 0 m2. Give a value within its limits.
model Sump
  parameter Real area(unit = "m2", min = 0) = -4;
  Real x = area;
end Sump;

//# index: constraints given twice
//! 2 quay.mo:5:3: the constraints 'der(x) + der(y) = 0', '2*der(x) + 2*der(y) = 0' repeat or contradict each other. Remove one of them.
model Arm
  Real x(start = 1), y, f, g;
equation
  der(x) = f; der(y) = g;
  x + y = 1;
  2*x + 2*y = 2;
end Arm;

//# index: the derivative of an input
//! 2 quay.mo:2:3: the derivative of the input 'u' is not known. Use the slope of a filtered signal: T*der(y) = u - y.
model Arm
  input Real u;
  Real y = der(u);
end Arm;

//# index: a reinit that is not of a state
//! 2 quay.mo:5:24: reinit sets 'y', which is not a state of the sorted system. Reinit a variable whose derivative is solved for, or give it stateSelect=StateSelect.always.
model Arm
  Real x(start = 0, fixed = true), y = 2*x;
equation
  der(x) = 1;
  when time > 0.5 then reinit(y, 0); end when;
end Arm;

//# start: fixed values that contradict each other
//! 2 quay.mo:2:40: 'volume' is to start at 5, fixed, and the rest of the start of the model makes it 3: 'volume = 3*level' (equation, line 4); 'level = 1' (start value, line 2). Correct one of them, or take fixed = true away.
model Sump
  Real level(start = 1, fixed = true), volume(start = 5, fixed = true);
equation
  volume = 3*level;
  der(level) = -1;
end Sump;

//# start: no solution
//! 3 quay.mo:4:3: no solution was found at the start for 'level^2 + 1 + time = 0' (unknowns level). Give start values near the solution, or check whether there is one.
model Sump
  Real level(start = 1);
equation
  level^2 + 1 + time = 0;
end Sump;

//# run: division by zero
//! 3 quay.mo:3:3: 'rate' is not a finite number at 0.5 s: it follows from 'rate = 2/(if level < 0.5 then 0 else level)' with level = 0.5. 'if level < 0.5 then 0 else level' is 0, and it is divided by that.
model Sump
  Real level(start = 1, fixed = true);
  Real rate = 2/(if level < 0.5 then 0 else level);
equation
  der(level) = -1;
end Sump;

//# run: logarithm of a negative number
//! 3 quay.mo:3:3: 'depth' is not a finite number at 0.508 s: it follows from 'depth = log(level)' with level = -0.006. Guard the division, root or logarithm in it.
model Sump
  Real level(start = 1.01, fixed = true);
  Real depth = log(level);
equation
  der(level) = -2;
end Sump;

//# run: an assertion with a value
//! 3 quay.mo:6:5: basin: the basin overflows at 1.202 m (at 0.404 s; 'basin.level < 1.2' does not hold).
package Quay
  model Basin
    Real level(start = 1, fixed = true, unit = "m");
  equation
    der(level) = 0.5;
    assert(level < 1.2, "the basin overflows at " + String(level) + " m");
  end Basin;
  model Sump Basin basin; end Sump;
end Quay;

//# run: an assertion at an event
//! 3 quay.mo:6:5: switched too late (at an event at 0.5 s).
model Sump
  Real level(start = 1, fixed = true);
equation
  der(level) = 1;
  when level > 1.5 then
    assert(level < 1.4, "switched too late");
  end when;
end Sump;

//# run: an event storm
//! 3 the run chatters at 0.1 s: 'x > 0.1' switched 200 times within 3.84e-09 s. It drives its own operands back; add hysteresis, or smooth the switching.
model Pump
  Real x(start = 0, fixed = true);
  Integer starts(start = 0, fixed = true);
equation
  when x > 0.1 then starts = pre(starts) + 1; end when;
  der(x) = if x > 0.1 then -1 else 1;
end Pump;

//# run: relations that do not settle
//! 3 the relations do not settle at 0.5 s: 'u > 0.5' switches itself on and off. A relation's outcome reverses what it depends on; add hysteresis or a small delay.
model Pump
  Real x(start = 0, fixed = true), u;
equation
  der(x) = 1;
  u = x + (if u > 0.5 then -1 else 0);
end Pump;

//# run: discrete variables that do not settle
//! 3 the discrete variables do not settle at 0.5 s: 'b' changes again and again. An event causes itself; use pre(...) or a condition that becomes false.
model Pump
  Real x(start = 0, fixed = true);
  Boolean b(start = false, fixed = true);
equation
  der(x) = 1;
  b = if x > 0.5 then not pre(b) else pre(b);
end Pump;

//# run: growth without limit
//! 3 the solver could not go on at 0.999965 s: the implicit step equations could not be solved. 'x' changes fastest there (1.798e+308 per second at 1.341e+154). Look for a division by something near zero, or take a larger tolerance.
model Pump
  Real x(start = 1, fixed = true);
equation
  der(x) = x^2;
end Pump;

//# run: the implicit equation loses its solution
//! 3 quay.mo:4:3: no solution was found at 0.504 s for 'x^2 = 0.5 - time' (off by 0.004; unknowns x). Give start values near the solution.
model Pump
  Real x(start = 1);
equation
  x^2 = 0.5 - time;
end Pump;

//# refused: an external function
//! 2 quay.mo:3:12: the external function 'Pump.speed' cannot be computed. Write its algorithm in Modelica.
model Pump
  function speed input Real u; output Real w; external "C"; end speed;
  Real w = speed(1);
end Pump;

//# refused: a partial model
//! 2 'Quay.Pump' is partial: there is no complete model to run. Write a model that extends it.
package Quay
  partial model Pump Real x; end Pump;
end Quay;

//# limits: a loop without end
//! 2 quay.mo:2:61: more than 200000 statements are run in 'f'. Is there a loop that does not end?
model Pump
  function f input Real x; output Real y; algorithm y := x; while true loop y := y + 1; end while; end f;
  Real y = f(1);
end Pump;

//# limits: classes within themselves
//! 2 quay.mo:1:7: components are nested more than 60 deep at 'inner_pump.inner_pump.inner_pump…'. A class that contains itself, perhaps?
model Pump
  Pump inner_pump;
end Pump;

//# limits: an array too large
//! 2 quay.mo:2:3: 'x' has 10000000000 elements; a model may have 500000. Make the array smaller.
model Pump
  Real x[100000, 100000];
end Pump;

//# structure: a circuit without a ground
//! 2 quay.mo:6:3: nothing sets the level of 'load.a.v', 'load.b.v', 'source.a.v', 'source.b.v'. The model has 6 equations for 6 unknowns after trivial ones are removed: 'source.b.i + load.b.i = 0' (connection, line 6) is given twice: other equations already determine load.b.i, source.b.i. only 4 equations for 5 unknowns (load.b.i, load.loss, load.v, source.a.v, source.b.v): 'source.v = source.a.v - source.b.v' (equation in source, line 9); 'load.v = load.a.v - load.b.v' (equation in load, line 9); 'load.v = load.R*load.i' (equation in load, line 9); 'load.loss = load.v*load.i' (equation in load, line 10). Connect one of these points to a ground, or to something else that holds it.
model Circuit
  Movrel.Electrical.VoltageSource source(V = 5);
  Movrel.Electrical.Resistor load(R = 2);
equation
  connect(source.a, load.a);
  connect(source.b, load.b);
end Circuit;

//# structure: an input that nothing feeds
//! 2 library/Movrel/Rotational/Sticking.mo:15:3: nothing feeds the input 'brake.u'. The model has 14 equations for 15 unknowns after trivial ones are removed: only 13 equations for 14 unknowns (brake.along, brake.alpha, brake.backward, brake.forward, brake.gaining, brake.idle, brake.loss, brake.tau): 'disc.w = der(disc.phi)' (equation in disc, line 15); 'disc.J*der(disc.w) = disc.tau' (equation in disc, line 17); 'brake.w_rel = der(brake.phi_rel)' (equation in brake, line 21); 'brake.alpha = der(brake.w_rel)' (equation in brake, line 22); '0 = if pre(brake.way) == 0 then brake.alpha else brake.tau - (pre(brake.way)*brake.tau_slip + brake.tau_drag)' (equation in brake, line 24); 'brake.forward = if pre(brake.way) == 0 then brake.tau - brake.tau_static else -1' (equation in brake, line 28). Connect it, or give it a value.
model Drive
  Movrel.Rotational.Inertia disc;
  Movrel.Rotational.Brake brake;
equation
  connect(disc.a, brake.a);
end Drive;

//# run: a division by zero before a loop that is singular with it
//! 3 quay.mo:4:3: 'v' is not a finite number at 0.5 s: it follows from 'v = k*(v + 3)' with k = 1. '1 - k' is 0, and it is divided by that.
model Feed
  Real k = 2*time, u = 3, v, a, b, x(start = 1, fixed = true);
equation
  v = k*(v + u);
  k*a + b = v;
  a + b = u;
  der(x) = -x;
end Feed;
