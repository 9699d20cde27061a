//# extends with modification
//: x = 2*exp(-3*t)
package P model A parameter Real k = 1; Real x(start = 1, fixed = true); equation der(x) = -k*x; end A; model M extends A(k = 3, x(start = 2)); end M; end P;

//# the outer modification wins
//: y = 5
package P model A parameter Real p = 1; Real y = p; end A; model B extends A(p = 2); end B; model M B b(p = 5); Real y = b.y; end M; end P;

//# multiple inheritance
//: x = 1
//: y = 2
package P model A Real x = 1; end A; model B Real y = 2; end B; model M extends A; extends B; end M; end P;

//# equal declarations inherited twice count once
//: x = 3
package P partial model A Real x; end A; model B extends A; end B; model C extends A; end C; model M extends B; extends C; equation x = 3; end M; end P;

//# nested modification of a component's component
//: y = 6
package P model A parameter Real p = 1; end A; model B A a(p = 2); end B; model M B b(a(p = 6)); Real y = b.a.p; end M; end P;

//# each in arrays
//: y = 12
package P model A parameter Real p = 1; Real y = p; end A; model M A a[3](each p = 4); Real y = sum(a.y); end M; end P;

//# array modification element by element
//: y = 321
package P model A parameter Real p = 1; end A; model M A a[3](p = {1, 20, 300}); Real y = sum(a.p); end M; end P;

//# replaceable component redeclared
//: y = 10
package P partial model Law Real y; end Law; model One extends Law; equation y = 1; end One; model Ten extends Law; equation y = 10; end Ten;
 model Box replaceable One law constrainedby Law; Real y = law.y; end Box; model M Box b(redeclare Ten law); Real y = b.y; end M; end P;

//# replaceable class redeclared
//: y = 7
package P partial model Law Real y; end Law; model One extends Law; equation y = 1; end One; model Seven extends Law; equation y = 7; end Seven;
 model Box replaceable model L = One constrainedby Law; L law; Real y = law.y; end Box; model M Box b(redeclare model L = Seven); Real y = b.y; end M; end P;

//# redeclare with a modification of the new class
//: y = 9
package P model One parameter Real k = 1; Real y = k; end One; model Two parameter Real k = 2; Real y = 3*k; end Two;
 model Box replaceable One law; Real y = law.y; end Box; model M Box b(redeclare Two law(k = 3)); Real y = b.y; end M; end P;

//# constrainedby modification holds for the replacement
//: y = 8
package P partial model Law parameter Real k = 1; Real y; end Law; model A extends Law; equation y = k; end A; model B extends Law; equation y = 2*k; end B;
 model Box replaceable A law constrainedby Law(k = 4); end Box; model M Box b(redeclare B law); Real y = b.law.y; end M; end P;

//# redeclared type
//: y = 3
package P model Box replaceable type T = Real; T x = 3; end Box; model M Box b(redeclare type T = Real(unit = "m")); Real y = b.x; end M; end P;

//# final cannot be set from outside
//: error final
package P model A final parameter Real p = 1; Real y = p; end A; model M A a(p = 2); Real y = a.y; end M; end P;

//# a class that is not replaceable
//: error not replaceable
package P model A Real y = 1; end A; model B Real y = 2; end B; model Box A a; end Box; model M Box b(redeclare B a); end M; end P;

//# extends itself
//: error extends itself
model M extends M; end M;

//# modification of what is not there
//: error no element 'q'
package P model A parameter Real p = 1; end A; model M A a(q = 2); end M; end P;

//# conflicting inheritance
//: error declared twice
package P model A Real x = 1; end A; model B Real x = 2; end B; model M extends A; extends B; end M; end P;
