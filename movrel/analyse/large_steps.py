"""Steps of a size that matters, about an operating point: what the model itself makes of them, beside its linear model."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.analyse.operating_point import Point
from movrel.session import LoadedModel
from movrel.simulate.run import Run
from movrel.simulate.standing import state_at

Array = npt.NDArray[np.float64]

#: Of the runs: what is small between two of them is to be seen.
TOLERANCE = 1e-9


@dataclass(frozen=True, slots=True)
class LargeStep:
    """Deviations of outputs from a run without the step, at the instants, and by how much that run itself moves on."""

    deviations: dict[str, Array]
    drift: dict[str, float]


def step_response(
    model: LoadedModel,
    point: Point,
    settings: Mapping[str, float | bool | str],
    name: str,
    amplitude: float,
    outputs: Sequence[str],
    instants: Array,
) -> LargeStep:
    """What becomes of outputs after a step of an input or parameter from its value at the point.

    ``instants`` are times after the step in s, from 0, evenly. Raises whatever a run raises.
    """
    machine = point.machine
    order = [*machine.system.states, *machine.system.solved]
    begin = state_at(machine, order, point.time, point.states)()
    place = {v.name: k for k, v in enumerate(machine.system.parameters)}
    given = {**settings, **point.parameters(model)}
    before = float(machine.p[place[name]])

    def run(change: Mapping[str, float]) -> Run:
        by_name = model.by_name
        own = {n: v for n, v in change.items() if by_name[n].variability == "parameter"}
        interval = float(instants[1] - instants[0])
        made = model.prepare(
            {**given, **own},
            tolerance=TOLERANCE,
            stop=point.time + float(instants[-1]),
            interval=interval,
            begin=begin,
        )
        inputs = {
            n: v for n, v in (point.trimmed | dict(change)).items() if n not in {*given, *own}
        }
        places = {v.name: k for k, v in enumerate(made.system.parameters)}
        for n, value in inputs.items():
            made.p[places[n]] = value
        return made

    still, moved = (run(change).go() for change in ({}, {name: before + amplitude}))
    at = point.time + instants
    without = {o: np.interp(at, still.time, still[o]) for o in outputs}
    return LargeStep(
        {o: np.interp(at, moved.time, moved[o]) - y for o, y in without.items()},
        {o: float(np.abs(y - y[0]).max()) for o, y in without.items()},
    )
