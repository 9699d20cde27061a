"""Values between the solver's own steps, by Hermite interpolation.

Three neighbouring steps with their derivatives give a polynomial of degree five, one more than the
order of the solver needs, so the interpolation error stays below the integration error (Hairer,
Norsett, Wanner: Solving Ordinary Differential Equations I, II.6).
"""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

Array = npt.NDArray[np.float64]


def interpolate(times: Array, values: Array, rates: Array, at: Array) -> Array:
    """Values at the instants ``at``.

    ``times`` has shape ``(k,)`` and increases strictly, ``values`` and ``rates`` have shape
    ``(k, n)`` with ``k >= 2``; the result has shape ``(len(at), n)``.
    """
    nodes = min(len(times), 3)
    interval = np.clip(np.searchsorted(times, at, side="left") - 1, 0, len(times) - 2)
    first = np.clip(interval - (nodes - 2), 0, len(times) - nodes)
    wanted, which = np.unique(first, return_inverse=True)
    # Newton's divided differences with every node taken twice, for all wanted starts at once.
    z = np.repeat(np.stack([times[wanted + i] for i in range(nodes)], axis=1), 2, axis=1)
    table = np.repeat(np.stack([values[wanted + i] for i in range(nodes)], axis=1), 2, axis=1)
    slopes = np.stack([rates[wanted + i] for i in range(nodes)], axis=1)
    coefficients = [table[:, 0]]
    for order in range(1, 2 * nodes):
        width = z[:, order:] - z[:, :-order]
        difference = table[:, 1:] - table[:, :-1]
        repeated = width == 0
        table = difference / np.where(repeated, 1.0, width)[:, :, None]
        if order == 1:
            table[:, ::2] = slopes
        coefficients.append(table[:, 0])
    result = coefficients[-1][which]
    for order in range(2 * nodes - 2, -1, -1):
        result = result * (at - z[which, order])[:, None] + coefficients[order][which]
    return result
