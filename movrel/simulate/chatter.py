"""Switches that turn over without end."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.errors import RunFault
from movrel.simulate.trajectory import Event

Array = npt.NDArray[np.float64]

#: Events one after the other in which a switch turns, each a few steps after the last, before it counts as chattering.
TURNS, FEW_STEPS = 8, 12
#: How many more each time when it could not be helped.
PATIENCE = 4
#: Events in which states move by no more than so many tolerances, within a share of the run, that end a run.
STANDSTILL, STILL, BRIEF = 200, 300.0, 1e-3
#: Steps in which a solver moves nothing before it is helped.
CRAWLING = 100
#: Steps of that kind that end a run.
HOPELESS = 30_000
#: What counts as nothing, in tolerances for each step.
SLIGHT = 100.0


@dataclass(slots=True)
class Chatter:
    """Watches the events and the steps of a run; ``tolerances`` gives those of given states, shape ``(states,)``."""

    span: float
    _slot: int = -1
    _side: int = 0
    _turns: int = 0
    _steps: int = 0
    _limit: int = TURNS
    _since: float = 0.0
    _events: int = 0
    _low: Array | None = None
    _high: Array | None = None

    def turning(self, slot: int, side: int, steps: int) -> bool:
        """Note that a switch turned after ``steps`` steps of the run; whether it now counts as chattering."""
        if slot == self._slot and side != self._side and steps - self._steps <= FEW_STEPS:
            self._turns += 1
        else:
            self._turns = 0
        self._slot, self._side, self._steps = slot, side, steps
        if self._turns < self._limit:
            return False
        self._turns = 0
        self._limit *= PATIENCE  # unless this time it is helped
        return True

    def helped(self) -> None:
        """The chattering found an end."""
        self._slot, self._turns, self._limit = -1, 0, TURNS
        self.moved_on()

    def moved_on(self) -> None:
        """Something else happened: what was counted towards a standstill is forgotten."""
        self._low = self._high = None
        self._events = 0

    def stands_still(self, t: float, states: Array, tolerances: Array) -> bool:
        """Note an event; whether many came while nothing moved."""
        if (
            self._low is None
            or self._high is None
            or len(self._low) != len(states)
            or t - self._since > BRIEF * self.span
            or ((self._high - self._low) > STILL * tolerances).any()
        ):
            self._low, self._high = states.copy(), states.copy()
            self._since, self._events = t, 0
        np.minimum(self._low, states, out=self._low)
        np.maximum(self._high, states, out=self._high)
        self._events += 1
        return self._events > STANDSTILL


class Crawling:
    """Watches whether the steps of a solver get on."""

    def __init__(self) -> None:
        self._looks, self._wait = 0, 0
        #: Over how many steps all looks found the same, and when the first did.
        self._steps, self._since = 0, 0.0

    def holds(self, t: float, states: Array, tolerances: Array) -> bool:
        """Whether the last steps, shape ``(steps, states)``, moved no state by more than some tolerances each.

        Is asked less and less as long as that cannot be helped.
        """
        last = states[-CRAWLING:]
        if (
            len(last) < CRAWLING
            or (np.abs(np.diff(last, axis=0)).mean(axis=0) > SLIGHT * tolerances).any()
        ):
            self._looks = self._wait = self._steps = 0
            return False
        self._since = self._since if self._steps else t
        self._steps += len(states)
        self._looks += 1
        if self._looks <= self._wait:
            return False
        self._looks, self._wait = 0, 2 * self._wait + 1
        return True

    def is_hopeless(self, t: float, span: float) -> bool:
        """Whether thousands of steps have hardly got on within a run of so many seconds."""
        return self._steps > HOPELESS and t - self._since < BRIEF * span


def crawling(t: float, text: str) -> RunFault:
    """The fault of a run that something which jumps between events holds up."""
    return RunFault(
        f"the run does not get on at {t:g} s: '{text}' jumps there, and both sides lead back to it.",
        hint="It is none of the forms along whose jumps a run can slide; add hysteresis, or smooth it, as with tanh.",
    )


def chattering(latest: list[Event], t: float) -> RunFault:
    """The fault of a run that does nothing but switch; ``latest`` are its last events."""
    cause, count = Counter(e.cause for e in latest).most_common(1)[0]
    return RunFault(
        f"the run chatters at {t:g} s: '{cause}' switched {count} times within {t - latest[0].time:.3g} s.",
        hint="It drives its own operands back; add hysteresis, or smooth the switching.",
    )
