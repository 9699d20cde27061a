"""Timing that all benchmarks share."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def median(action: Callable[[], object], repeats: int = 7) -> float:
    """Median seconds of an action, after one call that does not count."""
    action()
    times = []
    for _ in range(repeats):
        began = time.perf_counter()
        action()
        times.append(time.perf_counter() - began)
    return statistics.median(times)


def loosest(
    solve: Callable[[float], float], error: float, tolerances: list[float]
) -> tuple[float, float] | None:
    """(tolerance, its error) of the loosest tolerance that is at least as exact as ``error``."""
    for tolerance in tolerances:
        reached = solve(tolerance)
        if reached <= error:
            return tolerance, reached
    return None


TOLERANCES = [10.0 ** (-e / 2) for e in range(6, 23)]
