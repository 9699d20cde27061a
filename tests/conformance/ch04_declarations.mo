//# variability
//: x = 6*t
model M constant Real a = 2; parameter Real b = 3; Real x = a*b*time; end M;

//# parameters may depend on parameters declared later
//: y = 12
model M parameter Real a = 2*b; parameter Real b = 3*c; parameter Real c = 2; Real y = a; end M;

//# conditional components go with their connections
//: y = 1
package P connector C Real v; flow Real i; end C;
 model Load C p; equation p.i = p.v; end Load;
 model Src C p; equation p.v = 1; end Src;
 model M parameter Boolean on = false; Load a; Load b if on; Src s; Real y; equation connect(s.p, a.p); connect(s.p, b.p); y = -s.p.i; end M; end P;

//# conditional component switched on
//: y = 2
package P connector C Real v; flow Real i; end C;
 model Load C p; equation p.i = p.v; end Load;
 model Src C p; equation p.v = 1; end Src;
 model M parameter Boolean on = true; Load a; Load b if on; Src s; Real y; equation connect(s.p, a.p); connect(s.p, b.p); y = -s.p.i; end M; end P;

//# short class with attributes
//: x = 5
model M type Length = Real(unit = "m", min = 0); Length x = 5; end M;

//# enumeration values and comparison
//: y = 2
//: k = 3
model M type Mode = enumeration(off, slow, fast); parameter Mode m = Mode.fast; Real y = if m == Mode.slow then 1 elseif m > Mode.slow then 2 else 0; Integer k = Integer(m); end M;

//# arrays over an enumeration
//: s = 6
model M type E = enumeration(a, b, c); Real x[E] = {1, 2, 3}; Real s = sum(x); end M;

//# input at the top has its start value
//: y = 3
model M input Real u(start = 3); Real y = u; end M;

//# record with nested record
//: y = 7
model M record A Real x; Real y; end A; record B A a; Real z; end B; B b(a(x = 1, y = 2), z = 4); Real y = b.a.x + b.a.y + b.z; end M;

//# fixed false parameter solved at the start
//: x = 10*exp(-0.5*t)
model M parameter Real k(fixed = false); Real x(start = 10, fixed = true); equation der(x) = -k*x; initial equation der(x) = -5; end M;

//# a parameter without a value
//: error has no value
model M parameter Real p; Real x = p; end M;

//# parameters in a circle
//: error circle
model M parameter Real a = b; parameter Real b = a; Real x = a; end M;

//# parameter given something that varies
//: error varies in time
model M parameter Real a = 2*time; Real x = a; end M;

//# a limit that is broken
//: error maximum
model M parameter Real a(max = 3) = 4; Real x = a; end M;

//# wrong attribute
//: error no attribute
model M Real x(unti = "m") = 1; end M;

//# unknown type
//: error no class 'Lenght'
model M Lenght x = 1; end M;

//# declared twice
//: error declared twice
model M Real x = 1; Real x = 2; end M;

//# a real given to an integer
//: error Integer
model M Integer i = 1.5; end M;

//# partial class used as component
//: error is partial
package P partial model A Real x; end A; model M A a; end M; end P;

//# a package is no component type
//: error cannot be the type
package P package Q constant Real a = 1; end Q; model M Q q; end M; end P;
