"""Steps short enough for what turns in relations while its angle moves on evenly."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: How far an angle may move in one step, in rad; and the share of the way ahead over which its speed is measured at first.
TURN, NUDGE = 0.5, 1e-6
#: Where a step may be so many times as long as the last one was, the next few are not asked about; not among the first after
#: a restart, as these grow fast.
FAR, FEW, FIRST = 30.0, 3, 12


class PhaseBound:
    """How far a step may lead, so that no sine in a relation turns unseen."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self.any = machine.system.phases.size1_out(0) > 0
        self._last: tuple[float, Array] | None = None
        self._free = self._taken = 0

    def restart(self) -> None:
        """The angles may have jumped."""
        self._last, self._free, self._taken = None, 0, 0

    def limit(self, t: float, states: Array, rates: Array, until: float) -> float:
        """``until``, or an earlier instant. Called before every step from ``t``."""
        if not self.any or not until > t:
            return until
        if self._free:
            self._free -= 1
            return until
        angles = self._machine.phases
        now = angles(t, states).copy()
        if self._last is not None and t > self._last[0]:
            moved, way = now - self._last[1], t - self._last[0]
        else:
            way = NUDGE * (until - t)
            moved = angles(t + way, states + way * rates) - now
        moved = np.abs(moved[np.isfinite(moved)])
        fastest = float(moved.max(initial=0.0)) / way
        reach = TURN / fastest if fastest > 0 else math.inf
        self._taken += 1
        if self._taken > FIRST and reach > FAR * way:
            self._free = FEW
        self._last = t, now
        return min(until, t + reach) if t + reach > t else until
