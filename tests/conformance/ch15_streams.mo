//# one to one
//: h = 7
package S connector P Real p; flow Real m; stream Real h; end P; model A P port; equation port.m = -1; port.h = 7; end A; model B P port; Real h; equation port.p = 0; port.h = 0; h = inStream(port.h); end B;
 model M A a; B b; Real h = b.h; equation connect(a.port, b.port); end M; end S;

//# three ports mix by flow
//: h = 30
package S connector P Real p; flow Real m; stream Real h; end P; model A P port; parameter Real m = 1, h = 0; equation port.m = -m; port.h = h; end A; model B P port; Real h; equation port.p = 0; port.h = 0; h = inStream(port.h); end B;
 model M A a(m = 1, h = 10), c(m = 2, h = 40); B b; Real h = b.h; equation connect(a.port, b.port); connect(c.port, b.port); end M; end S;

//# actualStream follows the flow
//: q = where(t < 0.5, -5*(0.5 - t), 9*(t - 0.5))
package S connector P Real p; flow Real m; stream Real h; end P; model A P port; Real q; equation port.m = time - 0.5; port.h = 5; q = port.m*actualStream(port.h); end A; model B P port; equation port.p = 0; port.h = 9; end B;
 model M A a; B b; Real q = a.q; equation connect(a.port, b.port); end M; end S;

//# through a component with two ports
//: h = 3
package S connector P Real p; flow Real m; stream Real h; end P; model A P port; equation port.m = -1; port.h = 3; end A; model Pipe P a, b; equation a.m + b.m = 0; a.p = b.p; a.h = inStream(b.h); b.h = inStream(a.h); end Pipe;
 model B P port; Real h; equation port.p = 0; port.h = 0; h = inStream(port.h); end B; model M A a; Pipe p; B b; Real h = b.h; equation connect(a.port, p.a); connect(p.b, b.port); end M; end S;

//# through the border of an assembly
//: h = 3
package S connector P Real p; flow Real m; stream Real h; end P; model A P port; equation port.m = -1; port.h = 3; end A; model Pipe P a, b; equation a.m + b.m = 0; a.p = b.p; a.h = inStream(b.h); b.h = inStream(a.h); end Pipe;
 model Box P a, b; Pipe p, q; equation connect(a, p.a); connect(p.b, q.a); connect(q.b, b); end Box;
 model B P port; Real h; equation port.p = 0; port.h = 0; h = inStream(port.h); end B; model M A a; Box x; B b; Real h = b.h; equation connect(a.port, x.a); connect(x.b, b.port); end M; end S;

//# inStream of something else
//: error not a stream variable
model M Real x = 1; Real y = inStream(x); end M;

//# no flow variable beside it
//: error flow variables
package S connector P Real p; stream Real h; end P; model M P a; Real y = inStream(a.h); equation a.p = 1; a.h = 2; end M; end S;
