//# constants of packages and nested packages
//: y = 6.5
package P package C constant Real a = 2.5; package D constant Real b = 4; end D; end C; model M Real y = C.a + C.D.b; end M; end P;

//# package constant that depends on another
//: y = 6
package P constant Real a = 2; constant Real b = 3*a; model M Real y = b; end M; end P;

//# function of a package
//: y = 10
package P package F function f input Real x; output Real y; algorithm y := 2*x; end f; end F; model M Real y = F.f(5); end M; end P;

//# package constant array
//: y = 9
package P constant Real t[3] = {2, 3, 4}; model M Real y = sum(t); end M; end P;

//# inherited package constants
//: y = 3
package P package A constant Real k = 3; end A; package B extends A; end B; model M Real y = B.k; end M; end P;

//# within a package that is not there
//: error is not loaded
within Nowhere; model M Real x = 1; end M;
