"""The implicit blocks of a system judged at a solution: residuals, Newton steps, and where a block is singular."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt
from scipy.sparse import csc_matrix
from scipy.sparse.linalg import splu

from movrel.equations.sizes import Sizes
from movrel.equations.sorting import Block
from movrel.equations.system import System
from movrel.simulate.buffered import Buffered

Array = npt.NDArray[np.float64]

#: Difference, as a share of what is compared, that counts as rounding.
ROUNDED_OFF = 1e-12
#: Unknowns of a block up to which its open ones are looked for; the part in an open direction that counts.
LARGEST_SHOWN, FREE = 200, 1e-6
#: Smallest stretching of a Jacobian in the scale of unknowns and terms, against its largest, by which it is nearly singular.
NEARLY_SINGULAR = 1e-3


class Loops:
    """The implicit equations of a system with parameters ``p`` and memory ``m`` of a run; ``guesses`` and ``sizes`` are those
    of the run, too."""

    def __init__(self, system: System, p: Array, m: Array, guesses: Array, sizes: Sizes) -> None:
        self.system, self.guesses, self.sizes = system, guesses, sizes
        self._p, self._m = p, m

    def judged(self, t: float, states: Array, s: Array) -> tuple[Array, Array, Any]:
        """Residuals and sizes of the terms, ``(unknowns,)``, and the Jacobian, dense or sparse, at a solution ``s``."""
        n = len(s)
        if self._judgement is None:
            self._judged_at = np.zeros(n)
            self._judgement = Buffered(self.system.judgement, self._p, self._m, self._judged_at)
        self._judged_at[:] = s
        self._judgement(t, states)
        residuals, terms, slopes = self._judgement.results
        pattern = self.system.judgement.sparsity_out(2)
        if not pattern.is_dense():
            entries = slopes[: pattern.nnz()], pattern.row(), pattern.colind()
            return residuals[:n], terms[:n], csc_matrix(entries, shape=(n, n))
        return residuals[:n], terms[:n], slopes[: n * n].reshape(n, n, order="F")

    _judgement: Buffered | None = None

    def share_of_residuals(self, t: float, states: Array, s: Array) -> tuple[Array, Array]:
        """The residual of the equation of each implicit unknown, and its share of the size of the terms."""
        residuals, terms, _ = self.judged(t, states, s)
        off = np.where(terms > 0, np.abs(residuals), 0.0)
        return off, off / np.maximum(terms, self.sizes.terms)

    def newton_step(self, t: float, states: Array) -> Array:
        """The first step of Newton's method from the guesses, ``(unknowns,)``; infinite where there is none."""
        residuals, _, slopes = self.judged(t, states, self.guesses)
        try:
            if isinstance(slopes, np.ndarray):
                return np.asarray(np.linalg.solve(slopes, -residuals))
            return np.asarray(splu(slopes).solve(-residuals))
        except (np.linalg.LinAlgError, RuntimeError):  # the latter: exactly singular
            return np.full(len(residuals), np.inf)

    def turning(self, t: float, states: Array, solution: Array, singular: float) -> Block | None:
        """The nonlinear block whose Jacobian is nearly singular at a solution: of its stretchings the smallest is less than
        the share ``singular`` of the largest."""
        slopes = csc_matrix(self.judged(t, states, solution)[2])
        turning, smallest, position = None, singular, 0
        for block in self.system.blocks:
            own = slice(position, position + len(block.implicit))
            position = own.stop
            if block.kind != "nonlinear" or not 0 < own.stop - own.start <= LARGEST_SHOWN:
                continue
            matrix = slopes[own, own].toarray() * self.sizes.unknowns[own]
            matrix /= self.sizes.terms[own, None]
            if not np.isfinite(matrix).all():
                continue
            values = np.linalg.svd(matrix, compute_uv=False)
            # Against the sizes of the terms, so that a block of one unknown can be judged, too.
            if values[-1] < smallest * max(values[0], 1.0):
                turning, smallest = block, values[-1] / max(values[0], 1.0)
        return turning

    def undetermined(self, t: float, states: Array) -> list[str]:
        """The named unknowns of linear blocks that their equations leave open."""
        slopes = self.judged(t, states, self.guesses)[2]
        names: list[str] = []
        position = 0
        for block in self.system.blocks:
            own = slice(position, position + len(block.implicit))
            position = own.stop
            if block.kind != "linear" or own.stop - own.start > LARGEST_SHOWN:
                continue
            matrix = slopes[own, own]
            matrix = np.asarray(matrix if isinstance(matrix, np.ndarray) else matrix.toarray())
            if np.isfinite(matrix).all():
                _, sizes, directions = np.linalg.svd(matrix)
                free = np.abs(directions[sizes <= ROUNDED_OFF * sizes.max(initial=0.0)]).max(
                    axis=0, initial=0.0
                )
                names += [
                    f"'{v.name}'" for v, f in zip(block.implicit, free, strict=True) if f > FREE
                ]
        return names
