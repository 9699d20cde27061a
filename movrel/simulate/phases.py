"""Steps short enough for what turns in relations while its angle moves on evenly."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from movrel.simulate.machine import Machine

Array = npt.NDArray[np.float64]

#: How far an angle may move in one step, in rad; and the share of the way ahead over which its speed is measured.
TURN, NUDGE = 0.5, 1e-6


class PhaseBound:
    """How far a step may lead, so that no sine in a relation turns unseen."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self.any = machine.system.phases.size1_out(0) > 0

    def limit(self, t: float, states: Array, rates: Array, until: float) -> float:
        """``until``, or an earlier instant."""
        if not self.any or not until > t:
            return until
        angles, way = self._machine.phases, NUDGE * (until - t)
        now = angles(t, states).copy()
        moved = np.abs(angles(t + way, states + way * rates) - now)
        fastest = float(moved[np.isfinite(moved)].max(initial=0.0)) / way
        reach = TURN / fastest if fastest > 0 else math.inf
        return min(until, t + reach) if t + reach > t else until
