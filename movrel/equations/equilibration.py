"""Linear blocks with rows and columns brought to one size before they are solved.

The factorisation takes a small entry on its diagonal for a rank that is missing. Whether one is small must not depend on
units: a capacity of 1e-13 m3/Pa beside a flow of 1 is none. Source: Curtis and Reid, J. Inst. Maths Applics 10 (1972)
118, with the middle between the largest and the smallest entry for the mean.
"""

from __future__ import annotations

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.symbolic import Symbolic

Array = npt.NDArray[np.float64]

#: Times that columns and rows are brought to one size in turn, and the unknowns up to which that is done in the graph.
ROUNDS, SMALL = 4, 30


def equilibrated(matrix: Symbolic, vector: Symbolic) -> tuple[Symbolic, Symbolic, Symbolic]:
    """``(A, b, c)`` of ``matrix`` and ``vector``, shapes ``(n, n)`` and ``(n,)``: ``x = c*y`` where ``A y = b``.

    The entries of ``A`` are of one size as far as that goes, the largest of each column is 1; columns of zeros stay.
    """
    n, pattern = matrix.size1(), matrix.sparsity()
    rows, columns = pattern.row(), pattern.get_col()
    sizes = [ca.fabs(entry) for entry in matrix.nonzeros()]
    by_row, by_column = [ca.SX(1)] * n, [ca.SX(1)] * n
    for _ in range(ROUNDS if n <= SMALL else 1):
        for places, factors in ((columns, by_column), (rows, by_row)):
            middles = _middles(sizes, places, n)
            sizes = [size / middles[k] for k, size in zip(places, sizes, strict=True)]
            factors[:] = [a * b for a, b in zip(factors, middles, strict=True)]
    largest = [ca.SX(0)] * n
    for k, size in zip(columns, sizes, strict=True):
        largest[k] = ca.fmax(largest[k], size)
    by_column = [a * ca.if_else(b > 0, b, 1) for a, b in zip(by_column, largest, strict=True)]
    entries = [
        entry / (by_row[r] * by_column[c])
        for r, c, entry in zip(rows, columns, matrix.nonzeros(), strict=True)
    ]
    return (
        ca.SX(pattern, ca.vertcat(*entries)),
        ca.densify(vector) / ca.vertcat(*by_row),
        1 / ca.vertcat(*by_column),
    )


def _middles(sizes: list[Symbolic], places: list[int], count: int) -> list[Symbolic]:
    """The geometric middle of the largest and the smallest of the sizes at each place, zeros apart."""
    high: list[Symbolic] = [ca.SX(0)] * count
    low: list[Symbolic] = [ca.SX(np.inf)] * count
    for k, size in zip(places, sizes, strict=True):
        high[k] = ca.fmax(high[k], size)
        low[k] = ca.fmin(low[k], ca.if_else(size > 0, size, np.inf))
    return [ca.if_else(h > 0, ca.sqrt(h) * ca.sqrt(s), 1) for h, s in zip(high, low, strict=True)]


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
