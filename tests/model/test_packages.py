"""Packages and redeclarations as other people write them (chapters 5 to 7 of the specification), against closed forms."""

from __future__ import annotations

import pytest

import movrel
from movrel.errors import MovrelError

CASES = {
    "a function of a base uses the constants of the package that inherits it": (
        """package P
        package Base constant Real k=1; function f input Real u; output Real y; algorithm y:=k*u; end f; end Base;
        package D extends Base(k=3); end D;
        package E extends Base; redeclare constant Real k=5; end E;
        model M Real a,b; equation a=Base.f(time); b=D.f(2*time); end M; end P;""",
        {"a": 1, "b": 6},
    ),
    "a function is redeclared in an extends clause": (
        """package P
        partial package Base replaceable function w input Real u; output Real y; end w; function twice input Real u; output Real y; algorithm y:=2*w(u); end twice; end Base;
        function w3 input Real u; output Real y; algorithm y:=3*u; end w3;
        package D extends Base(redeclare function w=w3); end D;
        model M Real a; equation a=D.twice(time); end M; end P;""",
        {"a": 6},
    ),
    "a package is handed down through levels and arrays": (
        """package P
        partial package Med constant Real c; replaceable function h input Real T; output Real y; algorithm y:=c*T; end h; end Med;
        package Water extends Med(c=4); end Water; package Oil extends Med(c=2); end Oil;
        model Leaf replaceable package R=Water constrainedby Med; Real y; parameter Real T=10; equation y=R.h(T); end Leaf;
        model Mid replaceable package R=Water constrainedby Med; Leaf l(redeclare package R=R); Leaf ls[2](redeclare package R=R, T={1,2}); end Mid;
        model M Mid m(redeclare package R=Oil); Mid n; end M; end P;""",
        {"m.l.y": 20, "m.ls[2].y": 4, "n.l.y": 40},
    ),
    "a record class keeps its values when it is modified again": (
        """package P
        record R parameter Real age=1; parameter Real w=2; end R;
        record O=R(age=25); record O2 extends R(age=26); end O2;
        model M O o(w=7); O2 p(w=8); parameter O q=O(w=9); Real a,b,c,d,e; equation a=o.age; b=o.w; c=p.age; d=q.age; e=q.w; end M; end P;""",
        {"a": 25, "b": 7, "c": 26, "d": 25, "e": 9},
    ),
    "a function is redeclared by extending it": (
        """package P
        partial package B replaceable partial function f input Real u; output Real y; end f; end B;
        package D extends B; redeclare function extends f algorithm y:=u^2; end f; end D;
        model M Real a; equation a=D.f(3*time); end M; end P;""",
        {"a": 9},
    ),
    "members of a parameter record are parameters": (
        """package P
        record R Real a=1; Real b=2*a; Integer n=3; end R;
        model M parameter R r(a=4); Real x[r.n]; equation for i in 1:r.n loop x[i]=r.b*i; end for; end M; end P;""",
        {"x[3]": 24},
    ),
    "a constant record with arrays in a package": (
        """package P
        record C Real[3] c; Real s; end C;
        package K constant C data(c={1,2,3}, s=4); constant C more=C(c={4,5,6}, s=sum({1,2})); end K;
        model M Real a,b; equation a=K.data.c[2]*K.data.s; b=K.more.c[3]*K.more.s; end M; end P;""",
        {"a": 8, "b": 18},
    ),
    "imports of all kinds in an encapsulated package": (
        """package P
        package Q constant Real g=9; function f input Real u; output Real y; algorithm y:=g*u; end f; end Q;
        encapsulated package Z import P.Q; import W=P.Q.f; import P.Q.{g}; function h input Real u; output Real y; import V=P.Q; algorithm y:=V.f(u)+g; end h; constant Real k=Q.g+1; end Z;
        model M import P.Z.*; Real a,b; equation a=h(time); b=k; end M; end P;""",
        {"a": 18, "b": 10},
    ),
    "a package as a medium with state, functions and base model": (
        """package P
        partial package PM replaceable record State Real p; Real T; end State; constant Integer nX=1; constant Real cp=1;
        replaceable partial function setState input Real p; input Real T; output State s; end setState;
        replaceable partial function enth input State s; output Real h; end enth;
        replaceable model Base parameter Real p0=1; State state; Real h; equation h=enth(state); end Base; end PM;
        package Simple extends PM(cp=4.2, nX=2);
        redeclare record extends State Real X[nX]; end State;
        redeclare function extends setState algorithm s:=State(p=p,T=T,X=fill(0.5,nX)); end setState;
        redeclare function extends enth algorithm h:=cp*s.T+sum(s.X); end enth;
        redeclare model extends Base equation state.p=p0; end Base; end Simple;
        model Vol replaceable package Medium=PM; Medium.Base b; Medium.State st; Real y; equation b.state.T=time; b.state.X={0.1,0.2}; st=Medium.setState(1.0,2.0); y=Medium.enth(st); end Vol;
        model M Vol v(redeclare package Medium=Simple); end M; end P;""",
        {"v.b.h": 4.5, "v.y": 9.4},
    ),
    "constraining clauses and redeclared components in extends": (
        """package P
        model A parameter Real k=1; Real y; equation y=k; end A; model B extends A(k=2); end B; model C extends A; parameter Real z=5; end C;
        model Holder replaceable A a constrainedby A(k=3); end Holder;
        model H2 extends Holder(redeclare C a(z=6)); end H2;
        model H3 extends Holder(a(k=9)); end H3;
        model M H2 h; H3 g; Holder d(redeclare B a); Holder e; Real z; equation z=h.a.z; end M; end P;""",
        {"h.a.y": 3, "g.a.y": 9, "d.a.y": 3, "e.a.y": 3, "z": 6},
    ),
    "arrays of components with each and without": (
        """package P
        model A parameter Real k=1; parameter Real v[2]={1,2}; Real y; equation y=k*v[2]; end A;
        model M A a[3](each k=2, v={{1,2},{3,4},{5,6}}); A b[2](k={3,4}, each v={7,8}); end M; end P;""",
        {"a[3].y": 12, "b[2].y": 32},
    ),
    "a redeclared function keeps the inputs given to it": (
        """package P
        partial function ph input Real t; output Real y; end ph;
        function f1 extends ph; algorithm y:=2*t; end f1; function f2 extends ph; input Real k=3; algorithm y:=k*t; end f2;
        model A replaceable function f=f1 constrainedby ph; Real y; equation y=f(time); end A;
        model M A a; A b(redeclare function f=f2); A c(redeclare function f=f2(k=7)); end M; end P;""",
        {"a.y": 2, "b.y": 3, "c.y": 7},
    ),
    "types of types, and a package with another size": (
        """package P
        type Temp=Real(unit="K",min=0); type T2=Temp(start=300,nominal=100); connector C=input Real;
        record Base constant Real a=2; end Base;
        package K=P.L(n=4); package L constant Integer n=2; constant Real tab[n]=linspace(1,n,n); end L;
        model M T2 t; Real s; equation der(t)=0; s=sum(K.tab)+sum(L.tab); initial equation t=300; end M; end P;""",
        {"t": 300, "s": 13},
    ),
    "tables by enumeration": (
        """package P type E=enumeration(a,b,c); constant Real tab[E]={10,20,30};
        function g input E e; output Real y; algorithm y:=tab[e]; end g;
        model M parameter E e=E.b; Real y; Real z[E]; equation y=g(e); z=tab; end M; end P;""",
        {"y": 20, "z[3]": 30},
    ),
    "a record class redeclared with values": (
        """package P
        record Geo parameter Real d=1; parameter Real A=d^2; end Geo; record Big extends Geo(d=3); parameter Real x=1; end Big;
        model Pipe replaceable record G=Geo; parameter G g; Real y; equation y=g.A; end Pipe;
        model M Pipe a; Pipe b(redeclare record G=Big); Pipe c(g(d=5)); Pipe e(redeclare record G=Big(d=4)); end M; end P;""",
        {"a.y": 1, "b.y": 9, "c.y": 25, "e.y": 16},
    ),
    "what a package extends by redeclaring is inherited under another name": (
        """package P
        partial package Med constant Real c=1; replaceable partial model Props Real T,h; end Props; replaceable function f input Real T; output Real y; algorithm y:=c*T; end f; end Med;
        partial package Linear extends Med; redeclare replaceable model extends Props equation h=f(T); end Props; end Linear;
        package Water extends Linear(c=4); end Water;
        package Oil extends Linear(c=2); redeclare function extends f algorithm y:=y+1; end f; end Oil;
        model Leaf replaceable package R=Water constrainedby Med; R.Props p(T=10); package Own=Oil(c=3); Real y=Own.f(2); end Leaf;
        model M Leaf a; Leaf b(redeclare package R=Oil); end M; end P;""",
        {"a.p.h": 40, "b.p.h": 21, "a.y": 7},
    ),
    "an outer class is the inner one of the component around": (
        """package P
        partial function Shape input Real u; output Real y; end Shape;
        function Twice extends Shape; algorithm y:=2*u; end Twice; function Thrice extends Shape; algorithm y:=3*u; end Thrice;
        model A Real z=1; end A; model B Real z=5; end B; package K1 constant Real k=1; end K1; package K2 constant Real k=7; end K2;
        model Leaf outer function f=Shape; outer model T=A; outer package K=K1; Real y=f(2), k=K.k; T t; end Leaf;
        model Mid inner function f=Twice; inner model T=B; inner package K=K2; Leaf l; end Mid;
        model M inner function f=Thrice; inner model T=A; inner package K=K1; Mid m; Leaf l; end M; end P;""",
        {"m.l.y": 4, "m.l.t.z": 5, "m.l.k": 7, "l.y": 6, "l.t.z": 1, "l.k": 1},
    ),
    "elements of a class are redeclared among its own": (
        """package P
        function f1 input Real u; output Real y=u; algorithm end f1; function f2 input Real u; output Real y=2*u; algorithm end f2;
        model A parameter Real k=1; Real z=k; end A; model B extends A; Real w=2*k; end B; model C extends A; Real w=3*k; end C;
        model H replaceable function f=f1; replaceable model X=A; replaceable A a(k=9); replaceable A b constrainedby A(k=8); X x; Real y=f(3); end H;
        model R redeclare replaceable function f=f2; redeclare replaceable B a(k=4); redeclare B b; redeclare model extends X Real w=7; end X; extends H; end R;
        model S extends R; redeclare function f=f1; redeclare C a; end S;
        model M R r; S s; R q(redeclare function f=f1, a.k=6); R t(redeclare C a(k=11)); end M; end P;""",
        {
            "r.y": 6,
            "r.a.w": 8,
            "r.b.w": 16,
            "r.x.w": 7,
            "s.y": 3,
            "s.a.w": 12,
            "s.x.w": 7,
            "q.y": 3,
            "q.a.w": 12,
            "t.a.w": 33,
        },
    ),
    "classes declared beside a redeclared one see what stands in its place": (
        """package P
        package K1 constant Real k=1; end K1; package K2 constant Real k=2; end K2;
        model A parameter Real k=1; Real z=k; end A; model B extends A; Real w=2*k; end B;
        model H replaceable package Q=K1; replaceable model X=A; package R=Q; model Y=X; model In X x; Real q=g(1); end In;
          function g input Real u; output Real y; algorithm y:=u*Q.k; end g; Real y=R.k+10*g(3); Y v; In i; end H;
        model N replaceable package S=K1; Real s=S.k; end N;
        model L replaceable package Q=K1; replaceable model X=A; model D=N(redeclare package S=Q); D d; H h(redeclare package Q=Q, redeclare model X=X); end L;
        model O parameter Real p=7; L l[2](redeclare each package Q=K2, redeclare each model X=B(k=p)); L u; end O;
        model M O o; O e(p=8); end M; end P;""",
        {
            "o.l[1].d.s": 2,
            "o.l[2].h.y": 62,
            "o.l[1].h.v.w": 14,
            "e.l[2].h.v.w": 16,
            "e.l[1].h.i.x.w": 16,
            "o.l[2].h.i.q": 2,
            "o.u.h.y": 31,
            "o.u.d.s": 1,
        },
    ),
}


@pytest.mark.parametrize("case", list(CASES))
def test_a_foreign_style_means_what_it_says(case: str) -> None:
    text, values = CASES[case]
    r = movrel.load(text=text, model="P.M").simulate(stop=1, interval=0.1, tolerance=1e-8)
    assert {name: r[name][-1] for name in values} == pytest.approx(values, rel=1e-7)


def test_redeclared_packages_are_handed_on_by_name_and_by_extends() -> None:
    r = movrel.load(
        text="""package P
          partial package Fluid constant Real rho; function mass input Real V; output Real m; algorithm m := rho*V; end mass; end Fluid;
          package Light extends Fluid(rho = 2); end Light;
          package Heavy = Light(rho = 20);
          model Tank replaceable package F = Light constrainedby Fluid; parameter Real V = 3; Real m; equation m = F.mass(V); end Tank;
          model Plant replaceable package F = Light constrainedby Fluid; Tank a(redeclare package F = F);
            replaceable model T = Tank(V = 1); T b(redeclare package F = F); T c; end Plant;
          model Dense extends Plant(redeclare package F = Heavy, redeclare model T = Tank(V = 5)); end Dense;
          model M Plant light; Dense dense; end M; end P;""",
        model="P.M",
    ).simulate(stop=1)
    assert [r[f"light.{n}.m"][0] for n in "abc"] == [6, 2, 2]
    assert [r[f"dense.{n}.m"][0] for n in "abc"] == [60, 100, 10]


def test_a_redeclaration_names_a_class_of_its_own_package_or_is_refused() -> None:
    text = """package P
      partial package B replaceable function w input Real u; output Real y; end w;
        function twice input Real u; output Real y; algorithm y := 2*w(u); end twice; end B;
      package D extends B(redeclare function w = %s); function mine input Real u; output Real y; algorithm y := 7*u; end mine; end D;
      model M Real a = D.twice(time); end M; end P;"""
    r = movrel.load(text=text % "mine", model="P.M").simulate(stop=1)
    assert r["a"][-1] == 14
    with pytest.raises(MovrelError, match="no class 'nowhere'"):
        movrel.load(text=text % "nowhere", model="P.M").simulate(stop=1)


@pytest.mark.parametrize("element", ["model T = Nowhere", "package R = Nowhere"])
def test_a_redeclaration_as_something_unknown_is_refused(element: str) -> None:
    text = f"""package P package Q constant Real k = 1; end Q; model A Real y = 1; end A;
      model H replaceable model T = A; replaceable package R = Q; T t; Real z = R.k; end H;
      model M H h(redeclare {element}); end M; end P;"""
    with pytest.raises(MovrelError, match="no class 'Nowhere'"):
        movrel.load(text=text, model="P.M").simulate(stop=1)


@pytest.mark.parametrize(
    "element, sentence",
    [
        ("redeclare A b;", "'b' is redeclared, but nothing of that name is inherited"),
        ("redeclare A a;", "'a' is not replaceable"),
        ("redeclare model X = A;", "the class 'X' is not replaceable"),
    ],
)
def test_what_cannot_be_redeclared_is_named(element: str, sentence: str) -> None:
    text = f"""package P model A Real y = 1; end A; model H model X = A; A a; X x; end H;
      model M extends H; {element} end M; end P;"""
    with pytest.raises(MovrelError, match=sentence):
        movrel.load(text=text, model="P.M").simulate(stop=1)


def test_a_package_is_redeclared_with_values() -> None:
    r = movrel.load(
        text="""package P
          partial package Med constant Real c = 1; function h input Real T; output Real y; algorithm y := c*T; end h; end Med;
          package Water extends Med(c = 4); end Water;
          model Leaf replaceable package R = Water constrainedby Med; Real y = R.h(10), z = R.c; end Leaf;
          model M Leaf a(redeclare package R = Water(c = 5)); Leaf b; end M; end P;""",
        model="P.M",
    ).simulate(stop=1)
    assert [r[n][0] for n in ("a.y", "a.z", "b.y", "b.z")] == [50, 5, 40, 4]


def test_parameters_of_a_record_are_set_and_decide_sizes() -> None:
    text = """package P record Stage Integer n = 2; Real gain = 1; end Stage;
      model M parameter Stage s(n = 3); Real x[s.n]; equation for i in 1:s.n loop x[i] = s.gain*i; end for; end M; end P;"""
    r = movrel.load(text=text, model="P.M").simulate(stop=1, set={"s.gain": 4})
    assert r["x[3]"][-1] == 12


def test_what_would_take_for_ever_is_answered_at_once() -> None:
    """Classes that extend the one before twice, and powers beyond all numbers."""
    doubled = "".join(
        f"model C{i} extends C{i - 1}; extends C{i - 1}; end C{i};\n" for i in range(1, 31)
    )
    text = f"""package P model C0 Real x(start = 0, fixed = true); equation der(x) = 1; end C0;
      {doubled} model M extends C30(x(start = 2)); end M; end P;"""
    assert movrel.load(text=text, model="P.M").simulate(stop=1)["x"][-1] == pytest.approx(3)
    for text in (
        "model M parameter Real a = 10^(10^10); Real x; equation x = a; end M;",
        "model M Real x; equation x = 10^(10^10)*time; end M;",
        "model M function f input Real u; output Real y; algorithm y := 3; for i in 1:90 loop y := y*y; end for; end f; Real x = f(1); end M;",
    ):
        with pytest.raises(MovrelError):
            movrel.load(text=text).simulate(stop=1)
    whole = movrel.load(text="model M parameter Integer n = 2^40; Real x = n + 3^5; end M;")
    assert whole.simulate(stop=1)["x"][-1] == 2**40 + 243


def test_elements_of_matrices_of_components_have_one_bracket() -> None:
    r = movrel.load(
        text="""model A parameter Real k = 1; Real z[2, 2]; equation z = {{1, 2}, {3, k*time}}; end A;
        model M A a[2, 3](k = {{1, 2, 3}, {4, 5, 6}}); end M;"""
    ).simulate(stop=1)
    assert r["a[2,3].z[2,2]"][-1] == 6
