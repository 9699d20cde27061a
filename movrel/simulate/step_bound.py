"""Steps short enough for what time alone does in relations on states."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import numpy.typing as npt

from movrel.simulate.columns import Columns
from movrel.simulate.machine import Machine
from movrel.simulate.options import FIXED_STEP, RunOptions
from movrel.simulate.time_table import shortest_swing

Array = npt.NDArray[np.float64]

#: Longest step as a share of the shortest swing that time makes in a relation.
SHARE_OF_SWING = 0.1


def with_bounded_steps(
    machine: Machine, options: RunOptions, t: float, states: Array
) -> RunOptions:
    """Options with steps no longer than a share of a swing that time alone makes in a relation, so that none is stepped
    over."""
    function = machine.system.swings
    if not function.size1_out(0) or options.solver in FIXED_STEP or not options.stop > t:
        return options
    columns: Columns = machine.system.once("swing columns", lambda: Columns(function))

    def rates(times: Array) -> Array:
        rows = np.repeat(states.reshape(-1, 1), len(times), axis=1)
        memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
        return columns(times, rows, machine.p, memory, machine.w)

    longest = SHARE_OF_SWING * shortest_swing(rates, t, options.stop)
    if longest >= options.stop - t:
        return options
    return replace(options, step=min(options.step or math.inf, longest))
