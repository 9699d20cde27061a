"""Linear blocks that may be singular: of all solutions the smallest.

Two clutches that hold the same shafts, or two closed ideal switches side by side, leave open how they share a torque or a
current; everything else is determined.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import casadi as ca
import numpy as np
import numpy.typing as npt

from movrel.equations.equilibration import balances
from movrel.equations.symbolic import Symbolic

Array = npt.NDArray[np.float64]

#: Residual, as a share of the terms, up to which a singular system counts as solved.
SAME = 1e-9
#: Singular values, as a share of the largest, that count as zero.
RANK = 1e-12


def smallest(matrix: Array, vector: Array) -> Array | None:
    """The solution with the least norm of ``matrix``, shape ``(n, n)``, times ``x`` equals ``vector``, shape ``(n,)``; None
    where the equations contradict each other or are not finite."""
    if not (np.isfinite(matrix).all() and np.isfinite(vector).all()):
        return None
    size = np.abs(matrix).max(axis=1)
    size[size == 0] = 1.0
    scaled, right = matrix / size[:, None], vector / size
    # Whether something is open must not depend on units; how it is shared then does.
    rows, columns = balances(matrix)
    balanced = matrix / rows[:, None] / columns
    solution, _, rank, _ = np.linalg.lstsq(balanced, vector / rows, rcond=RANK)
    if rank == len(right):
        solution = solution / columns
    else:
        solution = np.linalg.lstsq(scaled, right, rcond=RANK)[0]
    terms = np.abs(scaled) @ np.abs(solution) + np.abs(right)
    close = np.abs(scaled @ solution - right) <= SAME * terms.max(initial=0.0)
    return np.asarray(solution) if close.all() else None


class _Smallest(ca.Callback):
    """``(A, b) -> x``: not a number where the equations contradict each other."""

    def __init__(self, n: int) -> None:
        ca.Callback.__init__(self)
        self._n = n
        self.construct(f"smallest_{n}", {"enable_fd": True})

    def get_n_in(self) -> int:
        return 2

    def get_n_out(self) -> int:
        return 1

    def get_sparsity_in(self, i: int) -> Any:
        return ca.Sparsity.dense(self._n, self._n if i == 0 else 1)

    def get_sparsity_out(self, i: int) -> Any:
        return ca.Sparsity.dense(self._n, 1)

    def eval(self, given: Any) -> Any:
        solution = smallest(given[0].full(), given[1].full().ravel())
        return [np.full(self._n, np.nan) if solution is None else solution]


@cache
def _smallest(n: int) -> _Smallest:
    return _Smallest(n)


def smallest_solution(matrix: Symbolic, vector: Symbolic) -> Symbolic:
    """The solution of a linear system with the least norm, not a number where it has none."""
    return _smallest(matrix.size1())(ca.densify(matrix), ca.densify(vector))
