//# series circuit
//: i = 2
//: v = 4
package E connector Pin Real v; flow Real i; end Pin; partial model Two Pin p, n; Real v, i; equation v = p.v - n.v; i = p.i; p.i + n.i = 0; end Two;
 model R extends Two; parameter Real R = 1; equation v = R*i; end R; model V extends Two; parameter Real V = 1; equation v = V; end V; model G Pin p; equation p.v = 0; end G;
 model M V s(V = 6); R a(R = 1), b(R = 2); G g; Real i = a.i, v = b.v; equation connect(s.p, a.p); connect(a.n, b.p); connect(b.n, s.n); connect(s.n, g.p); end M; end E;

//# parallel branches sum their flows
//: i = 3
package E connector Pin Real v; flow Real i; end Pin; model R Pin p; parameter Real R = 1; equation p.v = R*p.i; end R; model S Pin p; equation p.v = 2; end S;
 model M S s; R a(R = 1), b(R = 2); Real i = -s.p.i; equation connect(s.p, a.p); connect(b.p, a.p); end M; end E;

//# hierarchical connector keeps the sign
//: i = 2
package E connector Pin Real v; flow Real i; end Pin; model R Pin p; parameter Real R = 1; equation p.v = R*p.i; end R; model S Pin p; equation p.v = 2; end S;
 model Box Pin p; R r; equation connect(p, r.p); end Box; model M S s; Box b; Real i = b.p.i; equation connect(s.p, b.p); end M; end E;

//# arrays of connectors
//: y = 6
package E connector Pin Real v; flow Real i; end Pin; model R Pin p; parameter Real R = 1; equation p.v = R*p.i; end R; model S Pin p; parameter Real V = 1; equation p.v = V; end S;
 model M S s[3](V = {1, 2, 3}); R r[3]; Real y = sum(r.p.i); equation connect(s.p, r.p); end M; end E;

//# unconnected flow is zero
//: i = 0
package E connector Pin Real v; flow Real i; end Pin; model R Pin p; equation p.v = 3*p.i; end R; model M R r; Real i = r.p.i; end M; end E;

//# signals
//: y = 6*t
package B connector In = input Real; connector Out = output Real; block G In u; Out y; parameter Real k = 1; equation y = k*u; end G; block T Out y; equation y = time; end T;
 model M T t; G a(k = 2), b(k = 3); Real y = b.y; equation connect(t.y, a.u); connect(a.y, b.u); end M; end B;

//# feedback of signals
//: y = 1 - exp(-3*t)
package B connector In = input Real; connector Out = output Real; block Int In u; Out y(start = 0, fixed = true); equation der(y) = u; end Int; block Sub In a, b; Out y; equation y = a - b; end Sub; block G In u; Out y; equation y = 3*u; end G; block One Out y = 1; end One;
 model M One o; Sub s; G g; Int i; Real y = i.y; equation connect(o.y, s.a); connect(i.y, s.b); connect(s.y, g.u); connect(g.y, i.u); end M; end B;

//# expandable connector
//: y = 10
package B expandable connector Bus end Bus; connector In = input Real; connector Out = output Real; block C Out y = 5; end C; block G In u; Out y = 2*u; end G;
 model A Bus bus; C c; equation connect(c.y, bus.v); end A; model D Bus bus; G g; equation connect(bus.v, g.u); end D;
 model M A a; D d; Real y = d.g.y; equation connect(a.bus, d.bus); end M; end B;

//# connector with an array inside
//: y = 5
package E connector P Real v[2]; flow Real i[2]; end P; model S P p; equation p.v = {2, 3}; end S; model L P p; equation p.i = p.v; end L;
 model M S s; L l; Real y = sum(l.p.i); equation connect(s.p, l.p); end M; end E;

//# connectors that do not fit
//: error different variables
package E connector A Real v; flow Real i; end A; connector B Real x; flow Real i; end B; model M A a; B b; equation connect(a, b); end M; end E;

//# potential to flow
//: error flow variable
package E connector A Real v; flow Real i; end A; connector B flow Real v; Real i; end B; model M A a; B b; equation connect(a, b); end M; end E;

//# two outputs joined
//: error joins two outputs
package B connector Out = output Real; block C Out y = 1; end C; model M C a, b; equation connect(a.y, b.y); end M; end B;

//# something that is no port
//: error not a connector
package E connector A Real v; flow Real i; end A; model T A a; equation a.v = 1; end T; model M T t; A a; equation connect(t, a); end M; end E;

//# arrays of different size
//: error joins sizes
package E connector A Real v; flow Real i; end A; model M A a[2], b[3]; equation connect(a, b); end M; end E;

//# a protected connector counts as a part inside
//: T = 300 + 5*t
package E connector H Real T; flow Real Q; end H; model Body H port if true; Real T(start = 300, fixed = true); protected H inner_port; equation connect(port, inner_port); inner_port.T = T; 10*der(T) = inner_port.Q; end Body;
 model Source H p; equation p.Q = -50; end Source; model M Body b; Source s; Real T = b.T; equation connect(s.p, b.port); end M; end E;

//# connections in loops with varying indices and a condition on parameters
//: y = 3
package E connector P Real v; flow Real i; end P; model R P a, b; equation a.i + b.i = 0; a.v - b.v = a.i; end R; model S P p; equation p.v = 12; end S; model G P p; equation p.v = 0; end G;
 model M parameter Integer n = 4; R r[n]; S s; G g; Real y = r[1].a.i; equation connect(s.p, r[1].a); for i in 1:n loop if i < n then connect(r[i].b, r[i + 1].a); end if; end for; connect(r[n].b, g.p); end M; end E;

//# records in connectors
//: c.p.e.a = 0.5*t
//: d.p.e.b = 3*t
//: c.p.f.a = 0.5
model M record R Real a, b; end R; connector P R e; flow R f; end P;
  model C P p(e(a(start = 0, fixed = true), b(start = 0, fixed = true))); equation der(p.e.a) = p.f.a; der(p.e.b) = 2*p.f.b; end C;
  model S P p; equation p.f.a = -1; p.f.b = -3; end S; C c, d; S s; equation connect(s.p, c.p); connect(c.p, d.p); end M;
