"""Linear blocks with rows and columns brought to one size before they are solved.

The factorisation takes a small entry on its diagonal for a rank that is missing. Whether one is small must not depend on
units: a capacity of 1e-13 m3/Pa beside a flow of 1 is none. Source: Curtis and Reid, J. Inst. Maths Applics 10 (1972)
118, with the middle between the largest and the smallest entry for the mean.
"""

from __future__ import annotations

from collections.abc import Callable

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.symbolic import Symbolic

Array = npt.NDArray[np.float64]
Places = npt.NDArray[np.int64]

#: Times that columns and rows are brought to one size in turn, and the unknowns up to which that is done in the graph.
ROUNDS, SMALL = 4, 30


def equilibrated(matrix: Symbolic, vector: Symbolic) -> tuple[Symbolic, Symbolic, Symbolic]:
    """``(A, b, c)`` of ``matrix`` and ``vector``, shapes ``(n, n)`` and ``(n,)``: ``x = c*y`` where ``A y = b``.

    The entries of ``A`` are of one size as far as that goes, the largest of each column is 1; columns of zeros stay.
    """
    n, pattern = matrix.size1(), matrix.sparsity()
    rows, columns = np.array(pattern.row(), dtype=int), np.array(pattern.get_col(), dtype=int)
    entries = matrix.nz[:]
    sizes = ca.fabs(entries)
    by_row, by_column = ca.SX.ones(n), ca.SX.ones(n)
    for _ in range(ROUNDS if n <= SMALL else 1):
        middles = _middles(sizes, columns, n)
        sizes, by_column = sizes / middles[columns.tolist()], by_column * middles
        middles = _middles(sizes, rows, n)
        sizes, by_row = sizes / middles[rows.tolist()], by_row * middles
    largest = ca.fmax(0, gathered(ca.fmax, sizes, columns, n))
    by_column = by_column * ca.if_else(largest > 0, largest, 1)
    entries = entries / (by_row[rows.tolist()] * by_column[columns.tolist()])
    return ca.SX(pattern, entries), ca.densify(vector) / by_row, 1 / by_column


def _middles(sizes: Symbolic, places: Places, count: int) -> Symbolic:
    """The geometric middle of the largest and the smallest of the sizes at each place, zeros apart; shape ``(count,)``."""
    high = ca.fmax(0, gathered(ca.fmax, sizes, places, count))
    low = gathered(ca.fmin, ca.if_else(sizes > 0, sizes, np.inf), places, count)
    return ca.if_else(high > 0, ca.sqrt(high) * ca.sqrt(low), 1)


def gathered(
    combine: Callable[[Symbolic, Symbolic], Symbolic],
    values: Symbolic,
    places: Places,
    count: int,
) -> Symbolic:
    """All values of each place combined in pairs, shape ``(count,)``; 0 where there is none.

    ``values`` and ``places`` have the shape ``(n,)``, a place is below ``count``; ``combine`` takes vectors.
    """
    order = np.argsort(places, kind="stable")
    values, places = values[order.tolist()], places[order]
    while True:
        starts = np.flatnonzero(np.diff(places, prepend=-1))
        if len(starts) == len(places):
            break
        lengths = np.diff(starts, append=len(places))
        within = np.arange(len(places)) - np.repeat(starts, lengths)
        first = np.flatnonzero(within % 2 == 0)
        alone = within[first] + 1 == np.repeat(lengths, lengths)[first]
        paired, rest = first[~alone], first[alone]
        both = combine(values[paired.tolist()], values[(paired + 1).tolist()])
        kept = np.concatenate([paired, rest])
        order = np.argsort(kept)
        values = ca.vertcat(both, values[rest.tolist()])[order.tolist()]
        places = places[kept[order]]
    result = ca.SX.zeros(count)
    if len(places):
        result[places.tolist()] = values
    return result


def balances(matrix: Array) -> tuple[Array, Array]:
    """By what the rows and the columns of a matrix, shape ``(n, n)``, are divided so that its entries get one size."""
    sizes = np.abs(matrix)
    by_row, by_column = np.ones(len(matrix)), np.ones(len(matrix))
    for _ in range(ROUNDS):
        for axis, factors in ((0, by_column), (1, by_row)):
            high = sizes.max(axis=axis)
            low = np.where(sizes > 0, sizes, np.inf).min(axis=axis)
            middle = np.ones(len(matrix))
            there = high > 0
            middle[there] = np.sqrt(high[there]) * np.sqrt(low[there])
            factors *= middle
            sizes = sizes / (middle if axis == 0 else middle[:, None])
    return by_row, by_column
