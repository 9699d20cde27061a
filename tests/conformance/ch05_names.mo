//# lookup through enclosing packages
//: y = 3
package P constant Real a = 3; package Q model M Real y = a; end M; end Q; end P;

//# qualified import
//: y = 9.5
//: model P.M
package P package Q constant Real g = 9.5; end Q; model M import P.Q.g; Real y = g; end M; end P;

//# renaming import
//: y = 4
//: model P.M
package P package Q constant Real k = 4; end Q; model M import R = P.Q; Real y = R.k; end M; end P;

//# unqualified import
//: y = 6
//: model P.M
package P package Q constant Real k = 2, l = 3; end Q; model M import P.Q.*; Real y = k*l; end M; end P;

//# import of several
//: y = 5
//: model P.M
package P package Q constant Real k = 2, l = 3; end Q; model M import P.Q.{k, l}; Real y = k + l; end M; end P;

//# inner and outer
//: y = 4
//: z = 4
package P model World parameter Real g = 1; end World; model Body outer World world; Real y = world.g; end Body;
 model M inner World world(g = 4); Body b; Real y = b.y, z = b.world.g; end M; end P;

//# outer found two levels up
//: y = 8
package P model W parameter Real g = 1; end W; model A outer W w; Real y = w.g; end A; model B A a; end B;
 model M inner W w(g = 8); B b; Real y = b.a.y; end M; end P;

//# a name that is not known
//: error Did you mean 'height'
model M Real height = 1; Real x = hieght; end M;

//# member that is not there
//: error has no member
package P model A Real x = 1; end A; model M A a; Real y = a.z; end M; end P;

//# outer without inner
//: error no enclosing component
package P model W parameter Real g = 1; end W; model A outer W w; Real y = w.g; end A; model M A a; end M; end P;

//# encapsulated stops lookup
//: error no variable 'k'
package P constant Real k = 2; encapsulated model M Real x = k; end M; end P;

//# a variable of an enclosing class
//: error is not a constant
model A Real k = 1; model B Real x = k; end B; B b; end A;
