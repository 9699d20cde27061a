"""Events that set a state back and come ever faster: a geometric series of instants with an end (Zeno behaviour)."""

from __future__ import annotations

from collections import deque
from itertools import pairwise

#: Intervals that must have become shorter one after the other, the last against the longest of all.
INTERVALS, SHRUNK = 5, 0.01
#: Intervals of the first of these lengths for which nothing came any more.
MISSING = 20.0


class Returns:
    """The last instants at which each relation made something be set back."""

    def __init__(self) -> None:
        self._instants: dict[int, deque[float]] = {}
        self._longest: dict[int, float] = {}

    def note(self, slots: list[int], t: float) -> None:
        """Relations crossed at an instant, and a state was set."""
        for slot in slots:
            instants = self._instants.setdefault(slot, deque(maxlen=INTERVALS + 1))
            if instants:
                self._longest[slot] = max(self._longest.get(slot, 0.0), t - instants[-1])
            instants.append(t)

    def exhausted(self, end: float) -> list[tuple[int, float]]:
        """Relations whose events came ever faster and then no more, each with the last instant."""
        result = []
        for slot, instants in self._instants.items():
            if len(instants) <= INTERVALS:
                continue
            times = list(instants)
            intervals = [b - a for a, b in pairwise(times)]
            if (
                all(b < a for a, b in pairwise(intervals))
                and intervals[-1] < SHRUNK * self._longest[slot]
                and end - times[-1] > MISSING * intervals[0]
            ):
                result.append((slot, times[-1]))
        return result
