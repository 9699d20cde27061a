"""Where root functions have kinks, and so turn at once between two ends of a step that tell nothing of it."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np
import numpy.typing as npt

from movrel.simulate.columns import Columns
from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: Points in a row between which a kink is looked for, and how often; the last look takes a straight line.
KINK_POINTS, KINK_ROUNDS = 9, 3


class Kinks:
    """Where what is zero at the kinks of root functions changes its sign: there a root function turns at once."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self.any = machine.system.kinks.size1_out(0) > 0
        self._last: tuple[float, Array] | None = None

    def restart(self) -> None:
        """What they depend on may have jumped."""
        self._last = None

    def columns(self, times: Array, states: Array) -> Array:
        """What is zero at kinks, shape ``(instants, kinks)``."""
        machine = self._machine
        columns: Columns = machine.system.once(
            "kink columns", lambda: Columns(machine.system.kinks)
        )
        memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
        return columns(times, states.T, machine.p, memory, machine.w)

    def passed(self, times: Sequence[float], states: Sequence[Array]) -> bool:
        """Whether a kink lies between the two ends of a step, one after the other being asked for."""
        kinks, (start, end) = self._machine.kinks, times
        if self._last is None or self._last[0] != start:
            self._last = start, kinks(start, states[0]).copy()
        before, self._last = self._last[1], (end, kinks(end, states[1]).copy())
        return bool((before * self._last[1] < 0).any())

    def within(self, times: Array, between: Callable[[Array], Array]) -> list[float]:
        """The kinks in a step between two instants, ``between`` giving the states within."""
        ends = np.array([times[0], times[-1]])
        u = self.columns(ends, between(ends))
        instants = []
        for k in np.flatnonzero(u[0] * u[1] < 0):
            low, high = float(times[0]), float(times[-1])
            for _ in range(KINK_ROUNDS):
                at = np.linspace(low, high, KINK_POINTS)
                values = self.columns(at, between(at))[:, k]
                crossed = np.flatnonzero(values[:-1] * values[1:] <= 0)
                if not len(crossed):
                    break
                i = int(crossed[0])
                low, high = float(at[i]), float(at[i + 1])
                share = values[i] / (values[i] - values[i + 1]) if values[i] else 0.0
            else:
                instants.append(low + float(share) * (high - low))
        return instants
