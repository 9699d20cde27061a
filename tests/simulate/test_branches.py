"""Nonlinear loops whose solution comes to an end: the run ends there, with the loop's name."""

from __future__ import annotations

import pytest

from movrel.errors import RunFault
from movrel.session import load

#: Loops whose solution turns round at 2 s.
FOLDS = {
    # x is the root of 1 - time/2 until that is nothing; far away there is another solution.
    "x^2 + y": "Real y; equation der(s) = x; x^2 + y = 1 - 0.5*time; y = 0.1*x^3;",
    # The same, and nothing depends on x.
    "x^2 + 0.1*x^3": "equation der(s) = time; x^2 + 0.1*x^3 = 1 - time*0.5 + s*0;",
    # By what a state does: s = time.
    "x*x + 1": "Real y; equation der(s) = 1 + 0*x; y = 3 - s; x*x + 1 = y;",
    # An arch that would snap through, at s = 4/3.
    "x^3/3 - x": "equation der(s) = 2/3; x^3/3 - x = 2/3 - s;",
}


@pytest.mark.parametrize("solver", ["bdf", "radau", "rk45", "rk4", "dae"])
@pytest.mark.parametrize("equation", FOLDS)
def test_the_loop_that_has_no_solution_any_more_is_named(equation: str, solver: str) -> None:
    text = f"model Fold Real s(start = 0, fixed = true), x(start = 2); {FOLDS[equation]} end Fold;"
    with pytest.raises(RunFault) as fault:
        load(text=text).simulate(stop=20.0, solver=solver)
    words = fault.value.sentence()
    assert equation in words and "goes on from the one before" in words, words
    assert fault.value.where is not None
    assert float(words.split(" at ")[1].split(" s:")[0]) == pytest.approx(2.0, rel=2e-3), words


@pytest.mark.parametrize("solver", ["bdf", "radau", "rk45", "rk4"])
@pytest.mark.parametrize(
    ("equation", "end"),
    [
        ("x^3 + x = if noEvent(time > 2) then 10 else 2", 2.0),  # jumps
        ("x^3 = time - 1.0003", 1.9997 ** (1 / 3)),  # is vertical once
        ("x + 0.5*abs(x) + 0.3*abs(x - 1) = 2.5 - time", -4.0),  # has corners
    ],
)
def test_a_loop_that_jumps_or_is_steep_goes_on(equation: str, end: float, solver: str) -> None:
    text = f"model Jump Real s(start = 0, fixed = true), x(start = 1); equation der(s) = x; {equation}; end Jump;"
    assert load(text=text).simulate(stop=3.0, solver=solver)["x"][-1] == pytest.approx(end)
