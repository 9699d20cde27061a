"""Lookup, inheritance, redeclaration, arrays and connections, by what they compute."""

from __future__ import annotations

import pytest

import movrel
from movrel.errors import MovrelError


def final(text: str, name: str, **settings: float) -> float:
    return float(movrel.load(text=text).simulate(stop=1, interval=0.5, set=settings)[name][-1])


@pytest.mark.parametrize(
    ("text", "name", "value"),
    [
        # inner and outer
        ("model M inner Real g = 3; model A outer Real g; Real y = 2*g; end A; A a; end M;", "a.y", 6),
        ("package P model G parameter Real g = 3; annotation(missingInnerMessage = \"no G\"); end G; "
         "model A outer G g; Real y = 2*g.g; end A; model B A a; A b; end B; model M B b; Real y = b.b.y; end M; end P;", "y", 6),
        ("package P model G parameter Real g = 3; annotation(missingInnerMessage = \"no G\"); end G; "
         "model A outer G g; Real y = 2*g.g; end A; model M inner G g(g = 4); A a; end M; end P;", "a.y", 8),
        # conditional components and their connections
        (
            "package P connector C Real v; flow Real i; end C; model S C c; equation c.v = 4; end S; "
            "model M parameter Boolean on = false; S s if on; S t; C p; equation connect(s.c, p); connect(t.c, p); end M; end P;",
            "p.v", 4,
        ),
        # redeclaration of a component and of a class
        ("model A parameter Real k = 1; Real y = k; end A; model B extends A(k = 5); Real z = 1; end B; "
         "model H replaceable A a; end H; model M extends H(redeclare B a(k = 7)); Real y = a.y; end M;", "y", 7),
        ("package P model One Real y = 1; end One; model Two Real y = 2; end Two; "
         "model H replaceable model X = One; X x; end H; model M H h(redeclare model X = Two); Real y = h.x.y; end M; end P;", "y", 2),
        # enumerations
        ("package P type Mode = enumeration(off, low, high); model M parameter Mode m = Mode.high; "
         "Real y = if m == Mode.low then 1 elseif m == Mode.high then 9 else 0; end M; end P;", "y", 9),
        # imports: by name, by alias, all
        ("package P package Q constant Real a = 2; constant Real b = 3; end Q; "
         "model M import P.Q.a; import W = P.Q; import P.Q.*; Real y = a + 10*W.b + 100*b; end M; end P;", "y", 332),
        # constants of enclosing packages, types with attributes
        ("package P constant Real two = 2; type L = Real(unit = \"m\", min = 0); model M L x = two^3; end M; end P;", "x", 8),
        ("package P constant Real two = 2; type L = Real(start = 3*two, fixed = true); model M L x; equation der(x) = -1; end M; end P;", "x", 5),
        # several inheritance, modification of inherited, each
        ("model A parameter Real p = 1; end A; model B parameter Real q = 2; end B; model C extends A(p = 3); extends B; Real y = p*q; end C; "
         "model M C c[2](each q = 5); Real y = c[1].y + c[2].y; end M;", "y", 30),
        # arrays of components with an array modifier, arrays of connectors
        ("model A parameter Real p; Real y = p; end A; model M A a[3](p = {1, 10, 100}); Real y = sum(a.y); end M;", "y", 111),
        ("package P connector C Real v; flow Real i; end C; model Bus C c[3]; equation for k in 1:3 loop c[k].v = k; end for; end Bus; "
         "model Tap C c[3]; Real y = c[1].v + 10*c[2].v + 100*c[3].v; equation c.i = {1, 2, 3}; end Tap; "
         "model M Bus b; Tap t; Real y = t.y; Real i = b.c[3].i; equation connect(b.c, t.c); end M; end P;", "y", 321),
        # matrices, slices, products
        ("model M parameter Real A[2, 2] = [1, 2; 3, 4]; Real v[2] = A*{1, 1}; Real y = v[1] + 10*v[2] + sum(A[:, 2]) + A[end, 1]; end M;", "y", 82),
        # if equations chosen by a parameter, with connect inside
        ("model M parameter Boolean fast = true; Real y; equation if fast then y = 1; else y = 2; end if; end M;", "y", 1),
        # nested assemblies: flows inside and outside
        ("package P connector C Real v; flow Real i; end C; model R C p, n; parameter Real r = 1; equation p.v - n.v = r*p.i; p.i + n.i = 0; end R; "
         "model Two C a, b; R x(r = 2), y(r = 3); equation connect(a, x.p); connect(x.n, y.p); connect(y.n, b); end Two; "
         "model V C c; parameter Real v = 0; equation c.v = v; end V; "
         "model M Two two; V s(v = 10), g; Real i = two.a.i; equation connect(s.c, two.a); connect(two.b, g.c); end M; end P;", "i", 2),
        # the sign of unary minus before a power, integer division
        ("model M Real y = -2^2 + div(7, 2) + mod(-1, 3); end M;", "y", 1),
        # der of a product, initial equation on an expression
        ("model M Real x(start = 1, fixed = true), y; initial equation x*y = 6; equation der(x) = 0; der(x*y) = 2; end M;", "y", 8),
        # comprehension with two iterators
        ("model M Real y = sum(i*j for i in 1:3, j in 1:2); end M;", "y", 18),
    ],
)  # fmt: skip
def test_what_a_model_means(text: str, name: str, value: float) -> None:
    assert final(text, name) == pytest.approx(value, rel=1e-9)


def test_boolean_and_integer_settings() -> None:
    text = "model M parameter Boolean fast = true; parameter Integer n = 2; Real y = if fast then n else -n; end M;"
    assert final(text, "y", fast=False, n=5) == -5
    with pytest.raises(MovrelError, match="whole number"):
        final(text, "y", n=2.5)
    with pytest.raises(MovrelError, match="true or false"):
        final(text, "y", fast=3)


def test_a_model_survives_being_sent_to_another_process() -> None:
    import pickle

    model = movrel.load(
        text="model M parameter Real k = 2; Real x(start = 1, fixed = true); equation der(x) = -k*x; end M;"
    )
    again = pickle.loads(pickle.dumps(model))
    assert again.simulate(stop=1)["x"][-1] == model.simulate(stop=1)["x"][-1]


PORT = "connector Port input Real u(start = 3); output Real y; end Port;"


@pytest.mark.parametrize(
    ("equations", "inputs"),
    [
        ("p.y = 2*p.u;", ["p.u"]),
        ("p.u = 4; p.y = 2*p.u;", []),
        ("p.u = p.y/2;", ["p.u"]),
        ("connect(p, gain.q);", ["p.u"]),
    ],
)
def test_inputs_in_a_connector_of_the_model_are_its_inputs(
    equations: str, inputs: list[str]
) -> None:
    """Specification 4.4.2.2: unless the model determines them itself."""
    part = (
        "block Gain Port q; equation q.y = 2*q.u; end Gain; Gain gain;"
        if "gain" in equations
        else ""
    )
    text = f"model M {PORT} Port p; {part} equation {equations} end M;"
    model = movrel.load(text=text)
    assert [v.name for v in model.flat.variables if v.causality == "input"] == inputs
    assert model.simulate(stop=0.1)["p.y"][-1] == (8.0 if not inputs else 6.0)
