"""Alias removal: start values go over to the variable that stays, and the flat model is left as it is."""

from __future__ import annotations

import math

import pytest

import movrel
from movrel.errors import StructureFault
from movrel.model.flat import FlatModel


def attributes(flat: FlatModel) -> list[tuple[object, ...]]:
    return [(v.name, v.start and v.start.value, v.fixed, v.state_select) for v in flat.variables]


@pytest.mark.parametrize(
    ("text", "final"),
    [
        ("Real a(start = 2, fixed = true); Real b; equation der(b) = -b; a = b;", 2 * math.exp(-1)),
        (
            "Real a(start = 2, fixed = true); Real b; equation der(b) = -b; a = -b;",
            -2 * math.exp(-1),
        ),
        (
            "Real a(start = 2, fixed = true); Real b; Real c; equation der(b) = -b; a + c = 0; c = b;",
            -2 * math.exp(-1),
        ),
    ],
)
def test_reading_the_sorted_equations_leaves_the_flat_model_as_it_is(
    text: str, final: float
) -> None:
    model = movrel.load(text=f"model M {text} annotation (experiment(StopTime = 1)); end M;")
    before = attributes(model.flat)
    ordered = model.ordered
    assert attributes(model.flat) == before
    (b,) = [v for v in model.flat.variables if v.name == "b"]
    assert b.fixed is None and ordered.reduced.starts.of(b).fixed, (
        "what was said of a holds for the state"
    )
    assert model.simulate(tolerance=1e-9)["b"][-1] == pytest.approx(final, rel=1e-6)
    assert attributes(model.flat) == before


SURPLUS = {
    "one through a gain": (
        "Real a(start = p, fixed = true), b(start = 2*p, fixed = true), c(start = -6, fixed = true); equation b = 2*a; c + a + b = 0; der(a) = -a;",
        {"c": -6 * math.exp(-1)},
        "'c' is to start at -6, fixed, .* makes it -7.5: 'b = 2\\*a'",
    ),
    "a state that an equation gives": (
        "Real x(start = p, fixed = true), y; equation y = x^2; y = 4 + time;",
        {"x": math.sqrt(5)},
        "'x' is to start at 2.5, fixed, .* makes it 2: .*'y = 4 \\+ time'",
    ),
    "all four of a pendulum at its lowest point": (
        "Real x(start = 0, fixed = true), y(start = -p, fixed = true), u(start = 3, fixed = true), v(start = 0, fixed = true), F; "
        "equation der(x) = u; der(y) = v; der(u) = F*x; der(v) = F*y - 9.81; x^2 + y^2 = 4;",
        {},
        "'y' is to start at -2.5, fixed, .* makes it -2: .*'x\\^2 \\+ y\\^2 = 4'",
    ),
}


@pytest.mark.parametrize("case", list(SURPLUS))
def test_more_fixed_start_values_than_freedoms_run_when_they_agree(case: str) -> None:
    text, final, sentence = SURPLUS[case]
    model = movrel.load(text=f"model M parameter Real p = 2; {text} end M;")
    model.check_start()
    r = model.simulate(stop=1, tolerance=1e-9)
    assert {name: r[name][-1] for name in final} == pytest.approx(final, rel=1e-6)
    if not final:
        energy = (r["u"] ** 2 + r["v"] ** 2) / 2 + 9.81 * r["y"]
        assert energy == pytest.approx(energy[0], abs=1e-6 * 9.81)
    with pytest.raises(StructureFault, match=sentence):
        model.simulate(stop=1, set={"p": 2.5})
