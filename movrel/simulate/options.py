"""What a run may be told, checked before it starts."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import TypedDict

from movrel.errors import MovrelError
from movrel.model.flat import Experiment

#: Solvers by the names that are used everywhere.
SOLVERS = {
    "bdf": "BDF (variable step, stiff)",
    "adams": "Adams (variable step, not stiff)",
    "dae": "BDF on the DAE form",
    "rk45": "Runge-Kutta 4(5)",
    "radau": "Radau IIA (very stiff)",
    "euler": "Euler (fixed step)",
    "implicit-euler": "implicit Euler (fixed step)",
    "trapezoidal": "trapezoidal (fixed step)",
    "rk4": "Runge-Kutta 4 (fixed step)",
}
#: What each is good for.
PURPOSES = {
    "bdf": "Most plants: fast and slow parts together, events.",
    "adams": "Smooth motion without fast parts, at tight tolerances.",
    "dae": "Plants with many implicit equations, which it solves together with the states.",
    "rk45": "Plants without fast parts; cheap steps, good between events.",
    "radau": "Very fast beside very slow parts, and strong damping; costly steps.",
    "euler": "As a simple controller or a real-time target computes; unstable if the step is long.",
    "implicit-euler": "Always stable at its step, but it damps oscillations that are none of its own.",
    "trapezoidal": "Oscillations keep their height; jumps may ring.",
    "rk4": "A fixed step of high order for smooth plants; unstable if the step is long.",
}
FIXED_STEP = ("euler", "implicit-euler", "trapezoidal", "rk4")
#: Most points on the output grid of one run.
POINT_LIMIT = 50_000_000
#: Most steps of a fixed-step run.
STEP_LIMIT = 1_000_000_000


class RunSettings(TypedDict, total=False):
    """Settings of a run that differ from the model's own; times in s."""

    start: float
    stop: float
    interval: float
    solver: str
    tolerance: float
    step: float


@dataclass(frozen=True, slots=True)
class RunOptions:
    """Times in seconds; ``interval`` is the distance of stored points, ``tolerance`` is relative.

    ``step`` is the step of a fixed-step solver, or the longest step of another.
    """

    start: float
    stop: float
    interval: float
    solver: str = "bdf"
    tolerance: float = 1e-6
    step: float | None = None

    @property
    def points(self) -> int:
        """Number of points on the output grid, both ends included."""
        return math.floor((self.stop - self.start) / self.interval * (1 + 1e-12) + 1e-9) + 1


def run_options(
    experiment: Experiment,
    start: float | None = None,
    stop: float | None = None,
    interval: float | None = None,
    solver: str | None = None,
    tolerance: float | None = None,
    step: float | None = None,
) -> RunOptions:
    """Settings of a run: what is given, else what the model's experiment annotation says, else defaults.

    Without an interval, 500 intervals are stored. Raises :class:`MovrelError` with the cure.
    """
    first = experiment.start if start is None else float(start)
    last = experiment.stop if stop is None else float(stop)
    if not (math.isfinite(first) and math.isfinite(last)) or last <= first:
        raise MovrelError(
            f"the run would start at {first:g} s and stop at {last:g} s.",
            hint="Let it stop later than it starts.",
        )
    given = experiment.interval if interval is None else interval
    distance = (last - first) / 500 if given is None else float(given)
    if not math.isfinite(distance) or distance <= 0:
        raise MovrelError(
            f"the output interval is {distance:g} s.", hint="Give a positive interval."
        )
    relative = experiment.tolerance if tolerance is None else float(tolerance)
    if not 1e-14 <= relative <= 0.1:
        raise MovrelError(f"the tolerance is {relative:g}.", hint="Give one between 1e-14 and 0.1.")
    name = (solver or experiment.solver or "bdf").lower()
    if name not in SOLVERS:
        raise MovrelError(
            f"there is no solver '{name}'.", hint=f"Choose one of {', '.join(SOLVERS)}."
        )
    step = experiment.step if step is None else step
    if step is not None and not (math.isfinite(step) and step > 0):
        raise MovrelError(f"the step is {step:g} s.", hint="Give a positive step.")
    options = RunOptions(first, last, min(distance, last - first), name, relative, step)
    if name in FIXED_STEP and (last - first) / (step or options.interval) > STEP_LIMIT:
        raise MovrelError(
            f"the run would take more than {STEP_LIMIT} steps.", hint="Take a longer step."
        )
    if options.points > POINT_LIMIT:
        raise MovrelError(
            f"the run would store {options.points} points.",
            hint=f"At most {POINT_LIMIT} are stored; take a longer interval.",
        )
    return options
