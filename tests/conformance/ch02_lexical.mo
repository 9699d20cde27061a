//# comments, quoted identifiers and numbers
//: 'a b' = 1.5e-3
//: y = 0.25
/* a comment
   over lines */
model M Real 'a b' = 1.5e-3; /* in between */ Real y = .25e0; // at the end
end M;

//# strings with escapes stay out of numbers
//: n = 2
model M parameter String s = "a \"quoted\" text\n"; Real n = if s == "x" then 1 else 2; end M;

//# integers and reals
//: i = 7
//: r = 3.5
model M Integer i = 7; Real r = i/2; end M;

//# keywords cannot be names
//: error 2:14
model M Real end = 1; end M;
