"""Numbers that are read off a curve: extremes, means, step response and oscillation.

A curve is given by its instants ``t``, shape ``(n,)``, never decreasing, and its values ``y`` of the same
shape; between them it is straight, and at an event two values share an instant. Definitions of the step
response follow Ogata, Modern Control Engineering, 5th ed., Prentice Hall 2010, section 5-3;
damping is read off by the logarithmic decrement (Rao, Mechanical Vibrations, 5th ed. 2011, section 2.6).
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt
import scipy

from movrel.sized_cache import SizedCache

Array = npt.NDArray[np.float64]

#: Share of the end of a curve from which its steady value is judged, and how still it must be.
TAIL, STILL = 0.1, 0.01
#: What an oscillation must turn back by, as a share of its range, and what is left of it when it counts as faded.
TURNING, FADED = 1e-3, 1e-2
#: What a curve must have moved by in the end to count as a response to a step, as a share of its range, and of its values.
NO_STEP, ROUNDED = 1e-2, 1e-9
#: How much larger than another one a bend may be where a curve is round.
ALIKE = 2.0
#: How little a curve may have moved, as a share of its range, to be at rest before a step.
AT_REST = 1e-4
#: Half waves at least of what counts as an oscillation.
HALF_WAVES = 3


class NotMeasurable(Exception):
    """A curve does not have what is asked for; the text says why."""


def initial(t: Array, y: Array) -> float:
    return float(y[0])


def final(t: Array, y: Array) -> float:
    return float(y[-1])


def minimum(t: Array, y: Array) -> float:
    return -maximum(t, -y)


def maximum(t: Array, y: Array) -> float:
    return _top(t, y)[1]


def time_of_min(t: Array, y: Array) -> float:
    return time_of_max(t, -y)


def time_of_max(t: Array, y: Array) -> float:
    return _top(t, y)[0]


def _top(t: Array, y: Array) -> tuple[float, float]:
    """The instant and the height of the highest point, between the points where the curve is round there.

    It counts as round where the bends at the highest point and at its neighbours are alike; at a corner, a jump or a
    limit they are not, and the point itself counts.
    """
    k = int(np.argmax(y))
    near = slice(k - 2, k + 3)
    if 2 <= k < len(t) - 2 and np.all(steps := np.diff(t[near])):
        slopes = np.diff(y[near]) / steps
        bends = -np.diff(slopes) / (steps[1:] + steps[:-1])
        if bends.min() > 0 and bends.max() <= ALIKE * bends.min():
            return _vertex(t, y, k)
    return float(t[k]), float(y[k])


def integral(t: Array, y: Array) -> float:
    """The area under the curve, by the trapezoidal rule."""
    return float(np.trapezoid(y, t))


def mean(t: Array, y: Array) -> float:
    """The mean over time, not over points."""
    span = t[-1] - t[0]
    return integral(t, y) / float(span) if span > 0 else float(y[0])


def rms(t: Array, y: Array) -> float:
    """The root of the mean square over time; exact for straight pieces."""
    span = t[-1] - t[0]
    if not span > 0:
        return float(abs(y[0]))
    squares = (y[:-1] ** 2 + y[:-1] * y[1:] + y[1:] ** 2) / 3
    return float(np.sqrt(np.sum(squares * np.diff(t)) / span))


def peak_to_peak(t: Array, y: Array) -> float:
    return maximum(t, y) - minimum(t, y)


def at(t: Array, y: Array, instant: float) -> float:
    """The value at an instant; at an event the one after it."""
    if not t[0] <= instant <= t[-1]:
        raise NotMeasurable(f"the run goes from {t[0]:g} s to {t[-1]:g} s and has no {instant:g} s")
    after = int(np.searchsorted(t, instant, "right"))
    if after == len(t) or t[after - 1] == instant:
        return float(y[after - 1])
    share = (instant - t[after - 1]) / (t[after] - t[after - 1])
    return float(y[after - 1] + share * (y[after] - y[after - 1]))


def crossings(t: Array, y: Array, level: float) -> Array:
    """All instants at which a curve reaches or passes a level."""
    above = y > level
    steps = np.nonzero(above[1:] != above[:-1])[0]
    rise = y[steps + 1] - y[steps]
    return np.asarray(
        t[steps] + (t[steps + 1] - t[steps]) * (level - y[steps]) / rise, dtype=np.float64
    )


def crossing(t: Array, y: Array, level: float, number: int = 1) -> float:
    """The instant of the ``number``-th crossing of a level."""
    instants = crossings(t, y, level)
    if not 1 <= number <= len(instants):
        raise NotMeasurable(
            f"it crosses {level:g} {len(instants)} times"
            if len(instants)
            else f"it never crosses {level:g}"
        )
    return float(instants[number - 1])


# --- step response ---


def steady(t: Array, y: Array) -> float:
    """The value at which a curve comes to rest: its mean over the last tenth of the run."""
    value, still = _tail(t, y)
    if not still:
        raise NotMeasurable("not at rest: it still moves at the end of the run")
    return value


def is_steady(t: Array, y: Array) -> float:
    """1 when a curve rests during the last tenth of the run, within 1 % of the range that it went through."""
    return float(_tail(t, y)[1])


def _tail(t: Array, y: Array) -> tuple[float, bool]:
    start = t[-1] - TAIL * (t[-1] - t[0])
    late = t >= start
    value = mean(t[late], y[late])
    return value, bool(
        np.ptp(y[late]) <= STILL * max(float(np.ptp(y)), 1e-12 * abs(value)) or np.ptp(y) == 0
    )


def _step(t: Array, y: Array) -> tuple[float, float]:
    """Where a step response starts and by how much it moves in the end."""
    change = float(y[-1] - y[0])
    if abs(change) <= NO_STEP * float(np.ptp(y)) or np.ptp(y) <= ROUNDED * np.abs(y).max():
        raise NotMeasurable("no step: it ends where it began")
    return float(y[0]), change


def change_instant(t: Array, y: Array, events: Array) -> float:
    """When what happened at an event made a curve leave its rest: the event, else the beginning of the curve."""
    moved = np.abs(y - y[0]) > AT_REST * np.ptp(y)
    if not moved.any() or moved[0]:
        return float(t[0])
    # The last point at which it was still at rest.
    quiet = t[max(int(np.argmax(moved)) - 1, 0)]
    before = events[(events > t[0]) & (events <= quiet)]
    return float(before[-1]) if len(before) else float(t[0])


def rise(t: Array, y: Array) -> float:
    """From 10 % to 90 % of the way from the first to the last value."""
    start, change = _step(t, y)
    share = (y - start) / change
    return _first(t, share, 0.9) - _first(t, share, 0.1)


def dead_time(t: Array, y: Array) -> float:
    """Until 2 % of the way from the first to the last value."""
    start, change = _step(t, y)
    return _first(t, (y - start) / change, 0.02) - float(t[0])


def _first(t: Array, y: Array, level: float) -> float:
    """The first instant at which a curve that begins below a level reaches it."""
    reached = int(np.argmax(y >= level))
    if reached == 0:
        return float(t[0])
    low, high = y[reached - 1], y[reached]
    return float(t[reached - 1] + (t[reached] - t[reached - 1]) * (level - low) / (high - low))


def settle(t: Array, y: Array, band: float = 0.02) -> float:
    """The time after which a curve stays within a band about its last value, as a share of the step."""
    _, change = _step(t, y)
    room = abs(band * change)
    outside = np.nonzero(np.abs(y - y[-1]) > room)[0]
    if not len(outside):
        return 0.0
    k = int(outside[-1])
    # Between this point and the next the curve enters the band for good.
    edge = y[-1] + np.sign(y[k] - y[-1]) * room
    share = (edge - y[k]) / (y[k + 1] - y[k]) if y[k + 1] != y[k] else 1.0
    return float(t[k] + share * (t[k + 1] - t[k]) - t[0])


def overshoot(t: Array, y: Array) -> float:
    """How far a step response goes beyond its last value, as a share of the step."""
    start, change = _step(t, y)
    return max(0.0, float(((y - start) / change).max()) - 1.0)


# --- oscillation ---


def _extremes(t: Array, y: Array) -> Array:
    """The values at which an oscillation turns round, high and low in turn; kept, as several measures ask for them."""
    key = hashlib.blake2b(y.tobytes(), digest_size=16).digest() + t[[0, -1]].tobytes()
    return _kept.get(key, lambda: _turning_points(t, y))


_kept: SizedCache[Array] = SizedCache(20_000_000, lambda values: values.nbytes)


def _turning_points(t: Array, y: Array) -> Array:
    room = TURNING * float(np.ptp(y))
    highs, lows = (scipy.signal.find_peaks(side, prominence=room)[0] for side in (y, -y))
    places = np.concatenate([highs, lows])
    if not len(places):
        return np.array([])
    order = np.argsort(places, kind="stable")
    high = np.concatenate([np.ones(len(highs), bool), np.zeros(len(lows), bool)])[order]
    values = _vertices(t, y, places[order])
    # Of two highs in a row the higher one counts.
    first = np.concatenate([[0], np.nonzero(high[1:] != high[:-1])[0] + 1])
    signed = np.where(high, values, -values)
    return np.asarray(np.maximum.reduceat(signed, first) * np.where(high[first], 1.0, -1.0))


def _centre(extremes: Array) -> float:
    """The middle of a decaying oscillation: that about which successive extremes shrink alike (Aitken)."""
    a, b, c = extremes[:3]
    bend = a + c - 2 * b
    return float((a * c - b * b) / bend) if bend != 0 else float(b)


def _oscillation(t: Array, y: Array) -> Array:
    extremes = _extremes(t, y)
    if len(extremes) < HALF_WAVES:
        raise NotMeasurable("no oscillation: it turns round too seldom")
    return extremes


def _vertex(t: Array, y: Array, k: int) -> tuple[float, float]:
    """Instant and height of the top of the parabola through an inner point and its neighbours."""
    t0, t1, t2, y0, y1, y2 = *t[k - 1 : k + 2], *y[k - 1 : k + 2]
    d1, d2 = (y1 - y0) / (t1 - t0), (y2 - y1) / (t2 - t1)
    curvature = (d2 - d1) / (t2 - t0)
    when = min(max(0.5 * (t0 + t1 - d1 / curvature), t0), t2)
    return float(when), float(y0 + d1 * (when - t0) + curvature * (when - t0) * (when - t1))


def _vertices(t: Array, y: Array, places: npt.NDArray[np.int64]) -> Array:
    """The heights of the parabolas through inner points and their neighbours; of points at events, their own."""
    t0, t1, t2 = t[places - 1], t[places], t[places + 1]
    y0, y1, y2 = y[places - 1], y[places], y[places + 1]
    with np.errstate(divide="ignore", invalid="ignore"):
        d1, d2 = (y1 - y0) / (t1 - t0), (y2 - y1) / (t2 - t1)
        curvature = (d2 - d1) / (t2 - t0)
        when = np.clip(0.5 * (t0 + t1 - d1 / curvature), t0, t2)
        height = y0 + d1 * (when - t0) + curvature * (when - t0) * (when - t1)
    return np.asarray(np.where(np.isfinite(height), height, y1))


def period(t: Array, y: Array) -> float:
    """The time of one full wave, from the passes through the middle, the mean of all."""
    centre = _centre(_oscillation(t, y))
    # Where it has faded, passes tell of rounding only.
    last = np.nonzero(np.abs(y - centre) > TURNING * np.ptp(y))[0][-1]
    passes = crossings(t[: last + 1], y[: last + 1], centre)
    if len(passes) < HALF_WAVES:
        raise NotMeasurable("no oscillation: it passes its middle too seldom")
    whole = 2 * ((len(passes) - 1) // 2)
    return float((passes[whole] - passes[0]) / (whole // 2))


def frequency(t: Array, y: Array) -> float:
    return 1.0 / period(t, y)


def damping(t: Array, y: Array) -> float:
    """The damping ratio from how the extremes decay (logarithmic decrement over half waves)."""
    oscillation = _oscillation(t, y)
    sizes = np.abs(oscillation - _centre(oscillation))
    small = np.nonzero(sizes < FADED * sizes[0])[0]
    sizes = sizes[: int(small[0])] if len(small) else sizes
    if len(sizes) < 2:
        raise NotMeasurable("no decay: too few waves are left to see it")
    decrement = float(np.log(sizes[0] / sizes[-1]) / (len(sizes) - 1))
    return decrement / float(np.hypot(np.pi, decrement))


@dataclass(frozen=True, slots=True)
class Measure:
    """A measure as it is offered: its unit is that of the curve times ``power`` and the second to ``seconds``."""

    name: str
    words: str
    compute: Callable[..., float]
    power: int = 1
    seconds: int = 0
    #: Names of further arguments; what each is: a time, a value of the curve, a share, or a number.
    arguments: tuple[tuple[str, str], ...] = ()
    #: Whether it counts from the change that the curve answers to.
    of_step: bool = False


MEASURES = {
    m.name: m
    for m in (
        Measure("initial", "first value", initial),
        Measure("final", "last value", final),
        Measure("min", "smallest value", minimum),
        Measure("max", "largest value", maximum),
        Measure("time_of_min", "when it is smallest", time_of_min, 0, 1),
        Measure("time_of_max", "when it is largest", time_of_max, 0, 1),
        Measure("mean", "mean over time", mean),
        Measure("rms", "root of the mean square", rms),
        Measure("integral", "integral over time", integral, 1, 1),
        Measure("peak_to_peak", "largest less smallest value", peak_to_peak),
        Measure("at", "value at an instant", at, 1, 0, (("instant", "time"),)),
        Measure(
            "crossing",
            "when it crosses a level",
            crossing,
            0,
            1,
            (("level", "value"), ("number", "number")),
        ),
        Measure("steady", "value at which it rests", steady),
        Measure("is_steady", "1 if it is steady at the end, else 0", is_steady, 0),
        Measure("rise", "rise time, 10 to 90 %", rise, 0, 1, of_step=True),
        Measure("settle", "settling time", settle, 0, 1, (("band", "share"),), of_step=True),
        Measure("dead_time", "dead time, to 2 %", dead_time, 0, 1, of_step=True),
        Measure("overshoot", "overshoot as a share of the step", overshoot, 0, of_step=True),
        Measure("period", "period of the oscillation", period, 0, 1),
        Measure("frequency", "frequency of the oscillation", frequency, 0, -1),
        Measure("damping", "damping ratio from the decay", damping, 0),
    )
}


def window(t: Array, y: Array, low: float | None, high: float | None) -> tuple[Array, Array]:
    """The part of a curve between two instants, its values at both ends included."""
    if len(t) == 0:
        raise NotMeasurable("the run has no points")
    if low is None and high is None:
        return t, y
    low = float(t[0]) if low is None else max(low, float(t[0]))
    high = float(t[-1]) if high is None else min(high, float(t[-1]))
    if not float(t[0]) <= low <= high <= float(t[-1]):
        raise NotMeasurable(f"the run has nothing between {low:g} s and {high:g} s")
    inside = (t > low) & (t < high)
    ends = np.array([at(t, y, low)]), np.array([_before(t, y, high)])
    return np.concatenate([[low], t[inside], [high]]), np.concatenate([ends[0], y[inside], ends[1]])


def _before(t: Array, y: Array, instant: float) -> float:
    """The value at an instant; at an event the one before it."""
    after = int(np.searchsorted(t, instant, "left"))
    if after < len(t) and t[after] == instant:
        return float(y[after])
    return at(t, y, instant)
