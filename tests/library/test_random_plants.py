"""Plants that nobody designed: each runs, or is refused with a sentence, and solvers agree on those that run."""

from __future__ import annotations

import os
import time

import numpy as np
import pytest

import movrel
from movrel.errors import MovrelError, RunCancelled
from movrel.simulate.recording import Listener
from movrel.simulate.trajectory import Trajectory
from tests.library.random_plants import random_plant

#: The first ones by default, all of them when time does not matter.
COUNT = 300 if os.environ.get("MOVREL_FULL") else 15
#: Plants that the default run leaves out: they take a solver more than a few seconds.
LONG = {1, 11}
PATIENCE = 10.0


def tried(text: str, solver: str) -> Trajectory | str:
    """The run, or the sentence with which it was refused."""
    began = time.monotonic()
    patience = Listener(stopped=lambda: time.monotonic() - began > PATIENCE)
    try:
        return (
            movrel.load(text=text)
            .prepare(stop=1, interval=0.01, solver=solver, tolerance=1e-7, listener=patience)
            .go()
        )
    except RunCancelled:
        return "it was given up after a while."
    except MovrelError as refusal:
        return refusal.sentence()


@pytest.mark.parametrize("number", [n for n in range(COUNT) if COUNT > 15 or n not in LONG])
def test_it_runs_or_says_why_not_and_solvers_agree(number: int) -> None:
    _, text = random_plant(number)
    outcomes = {solver: tried(text, solver) for solver in ("bdf", "dae", "radau")}
    assert all(o.endswith(".") for o in outcomes.values() if isinstance(o, str))
    runs = [o for o in outcomes.values() if not isinstance(o, str)]
    if not runs:
        return
    grid = np.linspace(0, 1, 101)
    for state in movrel.load(text=text).system.states:
        curves = [np.interp(grid, r.time, r[state.name]) for r in runs]
        size = max(float(np.abs(curves[0]).max()), 0.1)
        for other in curves[1:]:
            assert np.abs(other - curves[0]).max() < 2e-3 * size, state.name


def test_most_of_them_run_with_every_solver() -> None:
    numbers = [2, 3, 4, 6, 7, 8, 9, 12, 13, 14]
    refused = [
        n
        for n in numbers
        if any(isinstance(tried(random_plant(n)[1], s), str) for s in ("bdf", "dae", "radau"))
    ]
    assert len(refused) <= 2, refused
