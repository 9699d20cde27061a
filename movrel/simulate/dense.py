"""Values between the solver's own steps, by Hermite interpolation.

Three neighbouring steps with their derivatives give a polynomial of degree five, one more than the
order of the solver needs, so the interpolation error stays below the integration error (Hairer,
Norsett, Wanner: Solving Ordinary Differential Equations I, II.6).
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt
from scipy.sparse import csr_matrix

Array = npt.NDArray[np.float64]

#: Neighbouring steps that differ by more than this are not used together.
RATIO_LIMIT = 25.0
#: A rate is not believed when over one step it differs by this share of what really changed around it, from the slope of
#: the values of so many steps.
DISBELIEF, NODES = 1.0, 5
#: The same where what is known of the rates' error explains so many times the difference.
NOISY, EXPLAINED = 1e-4, 10.0


def interpolate(
    times: Array, values: Array, rates: Array, at: Array, noise: Array | None = None
) -> Array:
    """Values at the instants ``at``.

    ``times`` has shape ``(k,)`` and increases strictly, ``values`` and ``rates`` have shape ``(k, n)`` with
    ``k >= 2``; the result has shape ``(len(at), n)``. ``noise``, shape ``(n,)``, says how wrong the rates may be because
    the values are not exact.
    """
    interval = np.clip(np.searchsorted(times, at, side="left") - 1, 0, len(times) - 2)
    first, three = _stencils(times)
    count = len(times)
    ends = np.zeros(len(at) + 1, dtype=np.int64)
    lengths = np.where(three[interval], 6, 4)
    np.cumsum(lengths, out=ends[1:])
    data = np.empty(ends[-1])
    where = np.empty(ends[-1], dtype=np.int64)
    for nodes, chosen in ((3, three[interval]), (2, ~three[interval])):
        if not chosen.any():
            continue
        start = first[interval[chosen]] if nodes == 3 else interval[chosen]
        places = ends[:-1][chosen][:, None] + np.arange(2 * nodes)
        data[places] = _weights(times, at[chosen], start, nodes)
        steps = start[:, None] + np.arange(nodes)
        where[places] = np.hstack([steps, steps + count])
    weights_of = csr_matrix((data, where, ends), shape=(len(at), 2 * count))
    return np.asarray(
        weights_of @ np.concatenate([values, _believable(times, values, rates, noise)])
    )


def _believable(times: Array, values: Array, rates: Array, noise: Array | None) -> Array:
    """The rates, but for those that contradict the values around them.

    The rate of a stiff variable at a step is the solver's error times a large number, and where a derivative is steep and
    jumps, as that of a root near zero, its value says nothing about the step. There the slope of the polynomial through
    the steps around is taken, as backward differentiation itself does.
    """
    if len(times) < 3:
        return rates
    width = np.diff(times)
    fitted = _slopes(times, values)
    size = np.abs(np.diff(values, axis=0))
    around = np.concatenate([size[:1] + size[1:2], size[:-1] + size[1:], size[-1:] + size[-2:-1]])
    reach = np.concatenate([width[:1], np.maximum(width[:-1], width[1:]), width[-1:]])
    off = np.abs(rates - fitted) * reach[:, None]
    wrong = off > DISBELIEF * around
    if noise is not None:
        wrong |= (off > NOISY * around) & (off < EXPLAINED * noise * reach[:, None])
    return np.where(wrong, fitted, rates) if wrong.any() else rates


def _slopes(times: Array, values: Array) -> Array:
    """Slopes at the steps of the polynomials through up to five of them, the step in the middle where there are two on
    each side."""
    count = len(times)
    nodes = min(NODES, count)
    here = np.arange(count)
    first = np.clip(here - nodes // 2, 0, count - nodes)
    near = times[first[:, None] + np.arange(nodes)]
    slopes = np.zeros_like(values)
    for k in range(nodes):
        # The derivative of Lagrange's polynomial of one node at the step.
        others = [m for m in range(nodes) if m != k]
        weight = np.zeros(count)
        for left_out in others:
            term = 1.0 / (near[:, k] - near[:, left_out])
            for m in others:
                if m != left_out:
                    term = term * (times - near[:, m]) / (near[:, k] - near[:, m])
            weight += term
        slopes += weight[:, None] * values[first + k]
    return slopes


def _stencils(times: Array) -> tuple[npt.NDArray[np.int64], npt.NDArray[np.bool_]]:
    """For each interval the first of the three nodes to use, and whether three are to be used.

    The neighbouring step nearer in length is taken; next to a step of quite another length the
    differences would lose their digits, and two nodes do.
    """
    steps = np.diff(times)
    count = len(steps)
    ratio = np.full(count, np.inf)
    first = np.arange(count)
    if count > 1:
        between = np.maximum(steps[1:] / steps[:-1], steps[:-1] / steps[1:])
        before, after = np.r_[np.inf, between], np.r_[between, np.inf]
        first = np.where(before <= after, first - 1, first)
        ratio = np.minimum(before, after)
    return first, ratio <= RATIO_LIMIT


def _weights(times: Array, at: Array, first: npt.NDArray[np.int64], nodes: int) -> Array:
    """What each value and then each rate of ``nodes`` nodes from ``first`` on contributes at the instants.

    The result has shape ``(len(at), 2*nodes)``.
    """
    wanted, which = np.unique(first, return_inverse=True)
    # Newton's divided differences with every node taken twice, of all unit data at once.
    z = np.repeat(np.stack([times[wanted + i] for i in range(nodes)], axis=1), 2, axis=1)
    unit = np.eye(2 * nodes)
    table = np.repeat(np.broadcast_to(unit[:nodes], (len(wanted), nodes, 2 * nodes)), 2, axis=1)
    slopes = np.broadcast_to(unit[nodes:], (len(wanted), nodes, 2 * nodes))
    coefficients = [table[:, 0]]
    for order in range(1, 2 * nodes):
        width = z[:, order:] - z[:, :-order]
        difference = table[:, 1:] - table[:, :-1]
        repeated = width == 0
        table = difference / np.where(repeated, 1.0, width)[:, :, None]
        if order == 1:
            table[:, ::2] = slopes
        coefficients.append(table[:, 0])
    result: Array = coefficients[-1][which]
    for order in range(2 * nodes - 2, -1, -1):
        result *= (at - z[which, order])[:, None]
        result += coefficients[order][which]
    return result
