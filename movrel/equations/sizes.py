"""One scale for all that is solved: how large each implicit unknown, and each sum of terms in its equation, really is.

Newton's method works on unknowns and residuals divided by these sizes, a residual is judged as a share of them, and what
a solver keeps within a tolerance is measured by them. A size is what was seen while solving: the newest one, but not less
than a share of the largest (Dennis and Schnabel, Numerical Methods for Unconstrained Optimization and Nonlinear
Equations, SIAM 1996, 7.1 and 7.2).
"""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.sparse import csc_matrix

Array = npt.NDArray[np.float64]

#: Share of its largest size below which what is left of a number is of no interest.
OF_LARGEST = 1e-3
#: Step of Newton's method, and residual, at which it ends: shares of the sizes.
STEP, RESIDUAL = 1e-12, 1e-15
#: Residual, as a share of the size of its terms, up to which an equation counts as solved.
SOLVED = 1e-6
#: Share of the terms of an equation that is rounding.
ROUNDED = 64 * np.finfo(float).eps
#: Step of Newton's method from a solution, as a share of the sizes, that is left where terms cancel and their rounding is
#: all that an equation can be solved to.
CANCELLED = 1e-8


class Sizes:
    """The sizes of ``n`` implicit unknowns and of their equations, written into the vectors ``unknowns`` and ``terms``."""

    def __init__(self, unknowns: Array, terms: Array) -> None:
        self.unknowns, self.terms = unknowns, terms
        #: The largest absolute value that each unknown had so far, shape ``(n,)``.
        self.largest, self._largest_term = np.zeros(len(unknowns)), np.zeros(len(terms))
        self.unknowns[:] = 1.0
        self.terms[:] = 1.0
        #: What of each unknown is lost in the rounding of its equations, shape ``(n,)``.
        self.rounding = np.zeros(len(unknowns))

    def begin(self, nominal: Array, solution: Array, terms: Array, slopes: Any) -> None:
        """Take the sizes at the start of a run.

        ``nominal`` holds declared sizes, 0 where there is none, ``solution`` the unknowns, both of shape ``(n,)``;
        ``terms`` the sums of the absolute terms and ``slopes`` ``(n, n)`` the Jacobian there, which may be sparse. An
        unknown that is zero, or no more than rounding, counts as large as it must be for its equations to feel it.
        """
        size = np.where(
            nominal > 0, nominal, np.where(np.isfinite(solution), np.abs(solution), 0.0)
        )
        slopes = csc_matrix(slopes)
        slopes.data = np.where(np.isfinite(slopes.data), np.abs(slopes.data), 0.0)
        terms = np.where(np.isfinite(terms), terms, 0.0)
        felt = np.full(len(size), np.inf)
        of, by = terms[slopes.indices], slopes.data
        counts = (by > 0) & (of > 0)
        column = np.repeat(np.arange(len(size)), np.diff(slopes.indptr))
        np.minimum.at(felt, column[counts], of[counts] / by[counts])
        felt[~np.isfinite(felt)] = 0.0
        self.rounding[:] = ROUNDED * felt
        size = np.where(size > self.rounding, size, np.where(felt > 0, felt, 1.0))
        size = np.where(np.isfinite(size) & (size > 0), size, 1.0)
        terms = np.maximum(terms, slopes @ size)
        self.largest[:] = size
        self._largest_term[:] = np.where(np.isfinite(terms) & (terms > 0), terms, 1.0)
        self.unknowns[:] = self.largest
        self.terms[:] = self._largest_term

    def renew(self, terms: Array, slopes: Any) -> None:
        """Take the sizes of the equations anew, as after an event: other branches of them may count now."""
        slopes = csc_matrix(slopes)
        slopes.data = np.where(np.isfinite(slopes.data), np.abs(slopes.data), 0.0)
        terms = np.fmax(np.where(np.isfinite(terms), terms, 0.0), slopes @ self.unknowns)
        sized = np.isfinite(terms) & (terms > 0)
        self._largest_term[sized] = terms[sized]
        self.terms[sized] = terms[sized]

    def note(self, solution: Array, terms: Array) -> None:
        """Take note of a solution that was accepted."""
        self._raise(np.abs(solution), self.unknowns, self.largest)
        self._raise(terms, self.terms, self._largest_term)

    @staticmethod
    def _raise(newest: Array, size: Array, largest: Array) -> None:
        np.fmax(largest, np.where(np.isfinite(newest), newest, 0.0), out=largest)
        np.fmax(newest, OF_LARGEST * largest, out=size)
