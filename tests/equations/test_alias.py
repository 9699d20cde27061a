"""Alias removal: start values go over to the variable that stays, and the flat model is left as it is."""

from __future__ import annotations

import math

import pytest

import movrel
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
