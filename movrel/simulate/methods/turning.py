"""Root functions that turn back within a step, so that their signs at its ends do not tell of it."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

import numpy as np
import numpy.typing as npt

from movrel.simulate.columns import Columns
from movrel.simulate.dense import interpolate
from movrel.simulate.machine import Machine
from movrel.simulate.methods.integrator import Steps
from movrel.simulate.methods.kinks import Kinks

Array = npt.NDArray[np.float64]

#: A root function is looked at where the parabola through its last three values comes nearer to zero than this share of both
#: ends of the step.
NEAR = 0.3


def turning_instants(
    earlier: tuple[float, Array], before: tuple[float, Array], last: tuple[float, Array]
) -> list[float]:
    """Where root functions that have one sign at both ends of the last step may have had the other within it, in order:
    the vertices of the parabolas through their values at three instants."""
    (t0, g0), (t1, g1), (t2, g2) = earlier, before, last
    if not t0 < t1 < t2:
        return []
    with np.errstate(all="ignore"):  # of what is not finite
        first, second = (g1 - g0) / (t1 - t0), (g2 - g1) / (t2 - t1)
        bend = (second - first) / (t2 - t0)
        start, end = first + bend * (t1 - t0), second + bend * (t2 - t1)
        if not (start * end < 0).any():
            return []  # none turns: this is asked at every step
    _, after = _turns(np.array([t0, t1, t2]), np.array([g0, g1, g2]))
    return sorted(t1 + float(a) for a in after)


#: Share of a step within which a crossing seen in it is the one at its end.
SAME = 1e-6
#: How long a step is within which root functions are looked at in any case, and how often in a run, were it one step.
LONG, GRID = 0.01, 200


class RootColumns:
    """The root functions of a machine at many instants at once, without what their being at rest makes of them."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self._columns: Columns = machine.system.once(
            "indicator columns", lambda: Columns(machine.system.indicators)
        )

    def _watched(self, times: Array, states: Array) -> Array:
        machine = self._machine
        memory = np.repeat(machine.m.reshape(-1, 1), len(times), axis=1)
        return self._columns(times, states.T, machine.p, memory, machine.w)[:, machine.rooted]

    def __call__(self, times: Array, states: Array) -> Array:
        """Their values, shape ``(instants, functions)``."""
        g = self._watched(times, states)
        return np.hstack([g, g[:, self._machine.floors] - 1.0])

    def contradicting(self, times: Array, states: Array) -> Array:
        """Those of the instants at which what is held seems contradicted."""
        machine = self._machine
        g, floors = self._watched(times, states), machine.floors
        wrong = (g > 0) != (machine.m[machine.rooted] != 0)
        if floors.any():
            wrong = np.where(floors, (g >= 1.0) | (g < 0), wrong)
        return times[wrong.any(axis=1)]


def first_missed(
    machine: Machine,
    times: Array,
    states: Array,
    rates: Callable[[], Array],
    span: float,
    crossed: bool,
) -> tuple[int, float] | None:
    """The first of many steps within which what is held is contradicted: its number, and an instant within it.

    ``times`` has shape ``(k,)``, ``states`` and what ``rates`` gives ``(k, n)``; ``span`` is the length of the run in s,
    ``crossed`` says whether the last step ends at a crossing that the solver saw.
    """
    if not len(machine.rooted) or len(times) < 2:
        return None
    roots = RootColumns(machine)
    g = roots(times, states)
    candidates = [
        (int(row) + 1, float(times[row + 1] + after))
        for row, after in zip(*_turns(times, g), strict=True)
    ]
    kinks = Kinks(machine)
    if kinks.any:
        u = kinks.columns(times, states)
        for k in np.flatnonzero((u[:-1] * u[1:] < 0).any(axis=1)).tolist():
            pair = slice(k, k + 2)
            within = partial(_within, machine, times[pair], states[pair])
            candidates += [(k, t) for t in kinks.within(times[pair], within)]
    long = (np.diff(times) > LONG * span).nonzero()[0].tolist()
    if long:
        each = [instants_within(float(times[k]), float(times[k + 1]), span) for k in long]
        at = np.concatenate(each)
        contradicting = roots.contradicting(at, interpolate(times, states, rates(), at))
        step = np.searchsorted(times, contradicting, side="right") - 1
        candidates += zip(step.tolist(), contradicting.tolist(), strict=True)
    if crossed:
        seen = float(times[-1] - SAME * (times[-1] - times[-2]))
        candidates = [c for c in candidates if c[1] < seen]
    return next((c for c in sorted(candidates) if _crosses(machine, times, states, *c)), None)


def _within(machine: Machine, times: Array, states: Array, at: Array) -> Array:
    """States within a step that is given by its ends."""
    ends = zip(times, states, strict=True)
    rates = np.array([machine.rates(float(t), y).copy() for t, y in ends])
    return interpolate(times, states, rates, at)


def instants_within(start: float, end: float, span: float) -> Array:
    """Where root functions are looked at within a step of a run of that length; nowhere within a short one."""
    if not end - start > LONG * span:
        return np.zeros(0)
    count = math.ceil(GRID * (end - start) / span)
    return np.linspace(start, end, count + 1)[1:-1]


def _crosses(machine: Machine, times: Array, states: Array, k: int, instant: float) -> bool:
    """Whether what is held is contradicted at an instant of the k-th step."""
    pair = slice(k, k + 2)
    trial = _within(machine, times[pair], states[pair], np.array([instant]))[0]
    return bool(machine.overlooked(instant, trial))


def _turns(times: Array, g: Array) -> tuple[Array, Array]:
    """The rows of three instants of which the last step may hide a crossing, in order, and how far behind the middle one."""
    if len(times) < 3:
        return np.zeros(0, int), np.zeros(0)
    width = np.diff(times)[:, None]
    with np.errstate(all="ignore"):
        slopes = np.diff(g, axis=0) / width
        bend = np.diff(slopes, axis=0) / (width[:-1] + width[1:])
        slope = slopes[:-1] + bend * width[:-1]
        after = -slope / (2 * bend)
        start, end = g[1:-1], g[2:]
        value = (start + 0.5 * slope * after) * np.sign(start)
        inside = (after > 0) & (after < width[1:]) & (np.sign(start) == np.sign(end))
        chosen = inside & (value < NEAR * np.minimum(np.abs(start), np.abs(end)))
    rows, which = chosen.nonzero()
    return rows, after[rows, which]


class Turning:
    """Watches the root functions of a method that looks at the ends of its steps only."""

    def __init__(self, machine: Machine, span: float) -> None:
        self._machine, self._span = machine, span
        self._watched = len(machine.rooted) > 0
        self._roots = RootColumns(machine) if self._watched else None
        self._kinks = Kinks(machine)
        self._g = np.zeros(2 * len(machine.rooted))
        #: What the solver's own looks gave at the start of a stretch and at the end of its newest step, and when that was.
        self._first: tuple[float, Array] | None = None
        self._newest: tuple[float, Array] | None = None
        self._start = (0.0, np.zeros(0))
        self._last: list[tuple[float, Array]] = []

    def begin(self, t: float, states: Array) -> None:
        """A stretch begins, the functions being what they are behind the last event."""
        self._start = t, states
        self._kinks.restart()
        self._first = self._newest = None
        self._last = []

    def note(self, t: float, g: Array) -> None:
        """The solver looked at the functions."""
        self._newest = t, g.copy()
        if t == self._start[0]:
            self._first = self._newest

    def _at(self, t: float, states: Array) -> Array:
        self._machine.crossings(t, states, self._g)
        return self._g.copy()

    def missed(self, steps: Steps, crossed: bool = False) -> float | None:
        """An instant within the last step at which what is held is contradicted.

        A solver looks at the ends of its steps, and of several crossings between them it finds any: where it ``crossed``
        one at the end of the step, another may have come before.
        """
        if self._roots is None:
            return None
        end = steps.times[-1]
        if not self._last:
            self._last.append(self._first or (self._start[0], self._at(*self._start)))
        if self._newest is None or self._newest[0] != end:
            self._newest = end, self._at(end, steps.states[-1])
        self._last.append(self._newest)
        del self._last[:-3]
        instants = turning_instants(*self._last) if len(self._last) == 3 else []
        bent = self._kinks.any and self._kinks.passed(steps.times[-2:], steps.states[-2:])
        if not instants and not bent and not end - steps.times[-2] > LONG * self._span:
            return None
        machine = self._machine
        times, states = np.array(steps.times[-2:]), np.array(steps.states[-2:])
        if bent:
            instants += self._kinks.within(times, partial(_within, machine, times, states))
        at = instants_within(float(times[0]), float(times[1]), self._span)
        if len(at):
            between = _within(machine, times, states, at)
            instants += self._roots.contradicting(at, between).tolist()
        if crossed:
            instants = [t for t in instants if t < end - SAME * (end - times[0])]
        return next((t for t in sorted(instants) if _crosses(machine, times, states, 0, t)), None)

    def take_back(self) -> None:
        """The last step is taken anew."""
        del self._last[-1]
