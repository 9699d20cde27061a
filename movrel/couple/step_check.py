"""Whether a communication step is small enough: the same rig at half of it."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
import numpy.typing as npt

from movrel.couple.partition import Connection
from movrel.couple.rig import RigRun
from movrel.simulate.recording import Listener

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class StepDifference:
    """How much a signal differs at half the step: at most and on average, as a share of its range."""

    source: str
    target: str
    largest: float
    mean: float
    #: When it differs most, in s.
    at: float


def step_check(run: RigRun, listener: Callable[[], Listener] = Listener) -> list[StepDifference]:
    """Run a rig at its step and at half of it; the difference of each connection, the largest first.

    Raises whatever the runs raise.
    """
    finer = RigRun(
        run.rig, replace(run.settings, step=0.5 * run.settings.step), run.options, run.set_values
    )
    run.listener, finer.listener = listener(), listener()
    coarse, fine = run.go(), finer.go()
    return differences(run.rig.connections, coarse, fine)


class Recording(Protocol):
    """A run that was recorded: its instants in s, and the values of each variable by name, shape ``(n,)`` each."""

    @property
    def time(self) -> Array: ...
    def __getitem__(self, name: str) -> Array: ...


def differences(
    connections: Iterable[Connection], coarse: Recording, fine: Recording
) -> list[StepDifference]:
    """How much the signals differ between two runs, the largest first."""
    each = [
        _difference(c, coarse.time, coarse[c.source.name], fine.time, fine[c.source.name])
        for c in connections
    ]
    return sorted(each, key=lambda d: -d.largest)


def _difference(
    c: Connection, time: Array, values: Array, times: Array, finer: Array
) -> StepDifference:
    off = np.abs(values - np.interp(time, times, finer))
    span = float(np.ptp(finer)) if len(finer) else 0.0
    scale = span if span > 0 else float(np.abs(values).max(initial=0.0)) or 1.0
    k = int(np.argmax(off)) if len(off) else 0
    return StepDifference(
        c.source.name, c.target.name, float(off.max(initial=0.0)) / scale,
        float(off.mean()) / scale if len(off) else 0.0, float(time[k]) if len(off) else 0.0,
    )  # fmt: skip
