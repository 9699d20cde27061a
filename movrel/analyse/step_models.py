"""What a step test says: first and second order and integrator, each with dead time, fitted to one response.

The input is taken as a few levels, each held until the next, so that a response is the sum of step responses; gain and
base value enter it linearly and are eliminated (Golub and Pereyra, SIAM J. Numer. Anal. 10, 1973). Models are compared
by the Bayesian information criterion (Schwarz, Ann. Statist. 6, 1978). What follows for a controller stands in
:mod:`movrel.analyse.controller_settings`.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal, TypeAlias

import numpy as np
import numpy.typing as npt
import scipy

from movrel.analyse.residuals import Agreement, agreement
from movrel.errors import MovrelError

Array = npt.NDArray[np.float64]
Kind: TypeAlias = Literal["first order", "second order", "integrator"]
KINDS: tuple[Kind, ...] = ("first order", "second order", "integrator")

#: A change of the input that counts, as a share of its range; most changes of a step test.
CHANGE, CHANGES = 0.02, 100
#: Samples of the first look for the region of the best values, and samples of the fit; most dead time as a share of what
#: comes after the first step; most time constant as a multiple of it.
COARSE, FINE, DEAD, SLOW = 300, 20_000, 0.6, 10.0
#: Damping ratios between which a second order lies, and those at which the search begins.
DAMPING, FIRST_DAMPING = (0.05, 20.0), (0.3, 0.8, 1.5)
#: Dead times that are taken for none, as a share of what comes after the first step.
NO_DEAD = 1e-6
CONFIDENCE = 0.95


@dataclass(frozen=True, slots=True)
class StepModel:
    """``y = base + gain*x``, where ``x`` follows the input less ``input_base`` after ``dead_time`` s.

    First order: ``T*der(x) + x``; second order: ``T^2*der(der(x)) + 2*damping*T*der(x) + x``; integrator: ``der(x)``.
    ``time_constant`` and ``damping`` are 0 where the kind has none. ``intervals`` hold 95 % of each parameter by name.
    """

    kind: Kind
    gain: float
    base: float
    input_base: float
    time_constant: float
    damping: float
    dead_time: float
    intervals: dict[str, tuple[float, float]]
    predicted: Array
    figures: Agreement
    criterion: float
    notes: list[str]

    @property
    def lags(self) -> tuple[float, ...]:
        """The time constants in s, the largest first; none where it oscillates or integrates."""
        if self.kind == "first order":
            return (self.time_constant,)
        if self.kind == "integrator" or self.damping < 1:
            return ()
        slow = self.damping + float(np.sqrt(self.damping**2 - 1))
        return (self.time_constant * slow, self.time_constant / slow)


@dataclass(frozen=True, slots=True)
class _Test:
    """Samples of shape ``(n,)``, and the steps of the input: instants and heights of shape ``(m,)``."""

    time: Array
    response: Array
    steps: Array
    heights: Array
    before: float

    @property
    def rest(self) -> float:
        return float(self.time[-1] - self.steps[0])

    def every(self, most: int) -> _Test:
        keep = slice(None, None, -(-len(self.time) // most))
        return _Test(self.time[keep], self.response[keep], self.steps, self.heights, self.before)


def step_models(time: Array, level: Array, response: Array) -> list[StepModel]:
    """The models of a step test, the likeliest first.

    ``time`` in s, rising; ``level`` the input and ``response`` the output, all of shape ``(n,)``; samples that are no
    numbers are left out. The plant rests until the first step. Raises :class:`MovrelError` for an input that does not
    step, and for too few samples.
    """
    good = np.isfinite(time) & np.isfinite(level) & np.isfinite(response)
    t, u, y = (np.asarray(a, float)[good] for a in (time, level, response))
    if len(t) < 10:
        raise MovrelError(
            f"a step test needs 10 samples with input and response; there are {len(t)}."
        )
    test = _Test(t, y, *_steps(t, u))
    if np.ptp(y) == 0:
        raise MovrelError(f"the response stays at {y[0]:g}.", hint="Choose another column.")
    after = int((t >= test.steps[0]).sum())
    if after < 8:
        raise MovrelError(f"only {after} samples come after the first step.")
    return sorted((_fitted(kind, test) for kind in KINDS), key=lambda m: m.criterion)


def _steps(t: Array, u: Array) -> tuple[Array, Array, float]:
    """Instants and heights of the steps of an input, and its level before; noise within a level is averaged."""
    span = float(np.ptp(u))
    if span == 0:
        raise MovrelError(
            f"the input stays at {u[0]:g}.", hint="A step test needs an input that changes."
        )
    starts = [0]
    while True:
        far = np.abs(u[starts[-1] :] - u[starts[-1]]) > CHANGE * span
        if not far.any():
            break
        starts.append(starts[-1] + int(far.argmax()))
        if len(starts) > CHANGES + 1:
            raise MovrelError(
                f"the input changes more than {CHANGES} times.",
                hint="A step test has a few steps; fit a model to such data instead.",
            )
    levels = np.array([u[a:b].mean() for a, b in zip(starts, [*starts[1:], len(u)], strict=True)])
    if len(levels) < 2:
        raise MovrelError("the input does not step.")
    return t[starts[1:]], np.diff(levels), float(levels[0])


# --- responses ---


def _unit_response(kind: Kind, t: Array, time_constant: float, damping: float) -> Array:
    """The response to a unit step at 0, shape as ``t``; 0 before it."""
    after = np.maximum(t, 0.0)
    if kind == "integrator":
        return after
    s = after / time_constant
    if kind == "first order":
        return -np.expm1(-s)
    if abs(damping - 1) < 1e-4:
        return 1 - (1 + s) * np.exp(-s)
    if damping < 1:
        ringing = np.sqrt(1 - damping**2)
        return 1 - np.exp(-damping * s) * (
            np.cos(ringing * s) + damping / ringing * np.sin(ringing * s)
        )
    root = np.sqrt(damping**2 - 1)
    # The poles multiply to one, which keeps the small one exact.
    fast, slow = damping + root, 1 / (damping + root)
    return 1 - (fast * np.exp(-slow * s) - slow * np.exp(-fast * s)) / (fast - slow)


def _shape(kind: Kind, test: _Test, values: Sequence[float] | Array) -> Array:
    """How the output moves for a gain of one; ``values`` are dead time, logarithms of time constant and damping."""
    dead, *rest = values
    time_constant, damping = (float(np.exp(v)) for v in (*rest, 0.0, 0.0)[:2])
    moved = np.zeros(len(test.time))
    for instant, height in zip(test.steps, test.heights, strict=True):
        moved += height * _unit_response(kind, test.time - instant - dead, time_constant, damping)
    return moved


def _linear(shape: Array, response: Array) -> tuple[float, float]:
    """Base value and gain with the least squares of ``base + gain*shape - response``."""
    around = shape - shape.mean()
    size = float(around @ around)
    gain = float(around @ (response - response.mean())) / size if size > 0 else 0.0
    return float(response.mean()) - gain * float(shape.mean()), gain


# --- the fit ---


def _fitted(kind: Kind, test: _Test) -> StepModel:
    fine = test.every(FINE)
    pause = float(np.median(np.diff(test.time)))
    bounds = [(0.0, DEAD * test.rest)]
    if kind != "integrator":
        bounds.append((float(np.log(0.1 * pause)), float(np.log(SLOW * test.rest))))
    if kind == "second order":
        bounds.append((float(np.log(DAMPING[0])), float(np.log(DAMPING[1]))))
    low, high = (np.array(side) for side in zip(*bounds, strict=True))

    def residual(values: Array, at: _Test = fine) -> Array:
        shape = _shape(kind, at, values)
        base, gain = _linear(shape, at.response)
        return base + gain * shape - at.response

    coarse = test.every(COARSE)
    first = min(
        (np.array(place) for place in itertools.product(*_places(kind, bounds, pause, test.rest))),
        key=lambda place: float(np.sum(residual(place, coarse) ** 2)),
    )
    span = high - low
    inside = np.clip(first, low + 1e-6 * span, high - 1e-6 * span)
    best = scipy.optimize.least_squares(residual, inside, bounds=(low, high), x_scale=span)
    return _described(kind, fine, test, best.x, low, high)


def _places(
    kind: Kind, bounds: list[tuple[float, float]], pause: float, rest: float
) -> list[Array | tuple[float, ...]]:
    """Where the search may begin: the squares have several valleys along the dead time."""
    places: list[Array | tuple[float, ...]] = [np.linspace(*bounds[0], 40)]
    if kind != "integrator":
        places.append(np.log(np.geomspace(pause, rest, 12)))
    if kind == "second order":
        places[0] = np.linspace(*bounds[0], 20)
        places.append(tuple(np.log(FIRST_DAMPING)))
    return places


def _described(
    kind: Kind, fine: _Test, test: _Test, values: Array, low: Array, high: Array
) -> StepModel:
    base, gain = _linear(_shape(kind, fine, values), fine.response)
    dead, *rest = (float(v) for v in values)
    dead = dead if dead > NO_DEAD * fine.rest else 0.0
    constants = [float(np.exp(v)) for v in rest]
    names = ["base", "gain", "dead_time", "time_constant", "damping"][: 2 + len(values)]
    whole = np.array([base, gain, dead, *constants])

    def response(p: Array) -> Array:
        return p[0] + p[1] * _shape(kind, fine, [p[2], *np.log(p[3:])])

    predicted = response(whole)
    figures = agreement(fine.response, predicted)
    n, count = len(fine.time), len(whole)
    left = float(np.sum((predicted - fine.response) ** 2))
    scale = np.array([1.0, 1.0, fine.rest, *constants])
    slopes = _slopes(response, whole, scale)
    variance = left / max(n - count, 1) * figures.inflation
    covariance = np.linalg.pinv(slopes.T @ slopes, rcond=1e-14) * variance
    quantile = float(scipy.special.stdtrit(max(n - count, 1), 0.5 + CONFIDENCE / 2))
    half = quantile * np.sqrt(np.maximum(np.diag(covariance), 0.0)) * scale
    intervals = {
        name: (float(v - h), float(v + h)) for name, v, h in zip(names, whole, half, strict=True)
    }
    intervals["dead_time"] = (max(intervals["dead_time"][0], 0.0), intervals["dead_time"][1])
    for name, v, h in zip(names[3:], whole[3:], half[3:], strict=True):
        # What is positive has its interval on a logarithmic scale.
        wide = float(np.exp(min(h / v, 50.0)))
        intervals[name] = (float(v) / wide, float(v) * wide)
    noise = float(np.finfo(float).eps) * float(np.abs(fine.response).max(initial=0.0))
    criterion = n * np.log(left / n + noise**2 + np.finfo(float).tiny) + count * np.log(n)
    notes = _notes(kind, values, low, high, constants, fine.rest)
    if figures.inflation > 1:
        notes.append("the residual is correlated; the intervals are wider for that.")
    everywhere = base + gain * _shape(kind, test, values)
    return StepModel(
        kind, gain, base, test.before, constants[0] if constants else 0.0,
        constants[1] if len(constants) > 1 else 0.0, dead, intervals, everywhere, figures, float(criterion), notes,
    )  # fmt: skip


def _slopes(response: Callable[[Array], Array], whole: Array, scale: Array) -> Array:
    """Central differences of a response by its scaled parameters, shape ``(n, p)``."""
    columns = []
    for k, size in enumerate(scale):
        step = np.zeros(len(whole))
        step[k] = 1e-5 * size
        columns.append((response(whole + step) - response(whole - step)) / 2e-5)
    return np.column_stack(columns)


def _notes(
    kind: Kind, values: Array, low: Array, high: Array, constants: list[float], rest: float
) -> list[str]:
    notes = []
    span = high - low
    if values[0] > high[0] - 1e-3 * span[0]:
        notes.append(
            "the dead time is at its upper bound; the response may not come from this input."
        )
    if constants and constants[0] > rest:
        notes.append(
            "the response had not settled when the test ended; gain and time constant go together."
        )
    if kind == "second order" and (
        values[2] < low[2] + 1e-3 * span[2] or values[2] > high[2] - 1e-3 * span[2]
    ):
        notes.append("the damping ratio is at its bound; a lower order says the same.")
    return notes
