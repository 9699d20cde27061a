"""Whether discrete variables stay as they are from one round of an event to the next."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.equations.sizes import CANCELLED
from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]


class DiscreteValues:
    """The variables that have a value before events, in the order of the memory.

    They stay when they are equal. Real ones that a loop gives, and those that follow from them, are only known to the
    rounding of that loop, in which they may change for ever.
    """

    def __init__(self, machine: Machine) -> None:
        variables = machine.system.ordered.pre.of
        self._machine = machine
        self.places = np.array([machine.position[v] for v in variables], dtype=int)
        self._real = np.array([v.type == "Real" for v in variables], dtype=bool)
        self._loops = [
            np.array([machine.position[v] - machine.state_count for v in block.unknowns], dtype=int)
            for block in machine.system.blocks
            if block.kind in ("linear", "nonlinear")
        ]
        loop_of = {int(at): k for k, loop in enumerate(self._loops) for at in loop}
        self._loop = np.array(
            [loop_of.get(int(at) - machine.state_count, -1) for at in self.places], dtype=int
        )

    def now(self, states: Array, values: Array) -> Array:
        """Their values among the states and what is solved."""
        return np.concatenate([states, values[: self._machine.solved_count]])[self.places]

    def stay(self, now: Array, before: Array, values: Array) -> bool:
        """Whether they stay."""
        differs = now != before
        if not differs.any():
            return True
        loops = set(self._loop[differs].tolist()) - {-1}
        if not loops or not self._real[differs].all():
            return False
        size = max(float(np.abs(values[self._loops[k]]).max()) for k in loops)
        sizes = np.fmax(size, np.abs(now[differs]))
        return bool((np.abs(now - before)[differs] <= CANCELLED * sizes).all())
