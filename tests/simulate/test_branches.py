"""Nonlinear loops whose solution comes to an end: the run ends there, with the loop's name."""

from __future__ import annotations

import pytest

from movrel.errors import RunFault
from movrel.session import load


@pytest.mark.parametrize(
    ("loop", "equation"),
    [
        # x is the root of 1 - time/2 until that is nothing.
        ("Real y; equation der(s) = x; x^2 + y = 1 - 0.5*time; y = 0.1*x^3;", "x^2 + y"),
        # The same by what a state does: s = time.
        ("Real y; equation der(s) = 1 + 0*x; y = 3 - s; x*x + 1 = y;", "x*x + 1"),
    ],
)
def test_the_loop_that_has_no_solution_any_more_is_named(loop: str, equation: str) -> None:
    text = f"model Fold Real s(start = 0, fixed = true), x(start = 1); {loop} end Fold;"
    with pytest.raises(RunFault) as fault:
        load(text=text).simulate(stop=20.0, solver="rk4")
    words = fault.value.sentence()
    assert " at 2" in words and equation in words and fault.value.where is not None, words
