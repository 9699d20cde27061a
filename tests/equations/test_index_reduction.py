"""Choice of states, tearing, the start system: what the sorted system looks like and why."""

from __future__ import annotations

import numpy as np
import pytest

import movrel
from movrel.equations.report import describe
from movrel.errors import MovrelError

TWO_MASSES = """model M Real x1(start = 0, fixed = true{a}), v1(start = 0, fixed = true{a}), x2{b}, v2{b}, f;
equation der(x1) = v1; der(x2) = v2; 1*der(v1) = 1 - f; 3*der(v2) = f; x1 = 2*x2; end M;"""


def states(text: str) -> set[str]:
    return {v.name for v in movrel.load(text=text).ordered.states}


def test_state_select_is_honoured() -> None:
    prefer = TWO_MASSES.format(a="", b="(stateSelect = StateSelect.prefer)")
    assert states(prefer) == {"x2", "v2"}
    avoid = TWO_MASSES.format(a="", b="(stateSelect = StateSelect.avoid)")
    assert states(avoid) == {"x1", "v1"}
    # The same motion either way: x2 moves half as far with three times the mass, 1 + 3/2 in all.
    for text in (prefer, avoid):
        r = movrel.load(text=text).simulate(stop=2, tolerance=1e-9)
        assert r["x1"] == pytest.approx(0.5 * r.time**2 / 2.5, abs=1e-7)


def test_fixed_start_values_make_a_state_without_being_asked() -> None:
    assert states(TWO_MASSES.format(a="", b="")) == {"x1", "v1"}


def test_a_derivative_through_a_relation_that_makes_no_event_is_linear() -> None:
    model = movrel.load(
        text="model M Real p(start = -1, stateSelect = StateSelect.prefer, fixed = true); Real v, w, q; "
        "equation v = noEvent(if p > 0 then 3*p else p); w = p; der(v) = q; der(w) = 2 - q; end M;"
    )
    r = model.simulate(stop=2, interval=0.5)
    assert r["p"] == pytest.approx([-1, -0.5, 0, 0.25, 0.5], abs=1e-5)


def test_the_report_names_constraints_choice_and_loops() -> None:
    text = describe(movrel.load(text=TWO_MASSES.format(a="", b="")).system)
    assert "Constraints between would-be states" in text and "x1 = 2*x2" in text
    assert "x1   (chosen: its start value is fixed)" in text
    assert "plain unknowns instead of derivatives of states" in text
    loop = describe(
        movrel.load(
            text="model M Real a(start = 1), b, c; equation a^3 + b = time + 2; b = 2*a; c = a + b; end M;"
        ).system
    )
    assert "nonlinear loop of 2, torn at a" in loop and "b := " in loop


def test_a_long_chain_of_rigid_couplings_is_one_body() -> None:
    """n masses tied one to the next: n - 1 constraints, each differentiated twice."""
    n = 30
    r = movrel.load(
        text=f"""model M parameter Integer n = {n}; Real x[n], v[n], f[n + 1];
        equation der(x) = v; for i in 1:n loop 2*der(v[i]) = f[i] - f[i + 1]; end for; f[1] = 6*n; f[n + 1] = 0;
        for i in 2:n loop x[i] = x[i - 1] + 1; end for;
        initial equation x[1] = 0; v[1] = 0; end M;"""
    ).simulate(stop=1, tolerance=1e-9)
    assert r["x[1]"] == pytest.approx(1.5 * r.time**2, abs=1e-7)
    assert r[f"x[{n}]"] == pytest.approx(1.5 * r.time**2 + n - 1, abs=1e-7)
    assert r[f"f[{n}]"] == pytest.approx(np.full(len(r.time), 6.0), abs=1e-7)


def test_a_prescribed_motion_gives_the_force_behind_it() -> None:
    """Inverse dynamics: the position is given, so velocity, acceleration and force follow by differentiation."""
    r = movrel.load(
        text="model M Real x, v, f; equation der(x) = v; 2*der(v) = f - 3*x; x = sin(4*time); end M;"
    ).simulate(stop=1)
    assert r["f"] == pytest.approx((3 - 2 * 16) * np.sin(4 * r.time), abs=1e-9)


def test_tearing_leaves_few_unknowns() -> None:
    text = (
        "model M Real x[8](each start = 1), y; equation "
        + "".join(f"x[{i + 1}] = 0.5*x[{i}] + 1;" for i in range(1, 8))
        + "x[1]^3 + x[8] = 2 + time; y = sum(x); end M;"
    )
    system = movrel.load(text=text).system
    loops = [b for b in system.blocks if b.kind == "nonlinear"]
    assert len(loops) == 1 and len(loops[0].unknowns) == 8 and len(loops[0].implicit) == 1
    r = movrel.load(text=text).simulate(stop=1)
    assert r["x[1]"] ** 3 + r["x[8]"] == pytest.approx(2 + r.time, abs=1e-9)


def test_homotopy_leads_to_a_start_that_newton_alone_does_not_find() -> None:
    text = """model M parameter Real k = 60; Real x(start = 30); equation {equation} = 0; end M;"""
    hard = "atan(k*(x - 2)) + 0.02*sin(40*x)"
    easy = f"homotopy({hard}, x - 2)"
    r = movrel.load(text=text.format(equation=easy)).simulate(stop=0.1)
    assert np.arctan(60 * (r["x"][0] - 2)) + 0.02 * np.sin(40 * r["x"][0]) == pytest.approx(
        0, abs=1e-9
    )


def test_parameters_follow_from_what_the_start_must_be() -> None:
    """The stiffness for which the mass rests at 0.1 m, and a parameter that depends on it."""
    model = movrel.load(
        text="""model M parameter Real k(fixed = false, start = 1, unit = "N/m"); parameter Real half = k/2; parameter Real at = 0.1;
        Real x(start = at, fixed = true), v(start = 0, fixed = true); equation der(x) = v; 2*der(v) = 2*9.81 - k*x;
        initial equation der(v) = 0; end M;"""
    )
    r = model.simulate(stop=1)
    assert r["k"][0] == pytest.approx(196.2) and r["half"][0] == pytest.approx(98.1)
    assert r["x"] == pytest.approx(np.full(len(r.time), 0.1))
    assert model.simulate(stop=1, set={"at": 0.2})["k"][0] == pytest.approx(98.1)


def test_too_many_and_too_few_start_conditions_are_told_apart() -> None:
    over = "model M Real x(start = 1, fixed = true), y(start = 2, fixed = true); equation der(x) = -x; y = 3*x; end M;"
    with pytest.raises(
        MovrelError, match=r"'y' is to start at 2, .* start of the model makes it 3"
    ):
        movrel.load(text=over).simulate(stop=1)
    under = movrel.load(
        text="model M Real x(start = 4), y; equation der(x) = -x; der(y) = x; end M;"
    )
    notes = " ".join(under.ordered.notes)
    assert "'x' starts at 4" in notes and "'y' starts at 0" in notes


def test_a_linear_block_is_not_singular_because_its_units_are_small() -> None:
    """Two capacities side by side, of any size: both get their share of the flow."""
    for size in (1.0, 1e-14, 1e14):
        r = movrel.load(
            text=f"model M Real p(start = 0, fixed = true), a, b; equation {size}*der(p) = a; 3*{size}*der(p) = b; "
            f"a + b = {4 * size}; end M;"
        ).simulate(stop=1, interval=0.5)
        assert r["p"][-1] == pytest.approx(1) and r["b"][-1] == pytest.approx(3 * size)
