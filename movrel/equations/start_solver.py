"""The start of a run: implicit blocks solved one after the other, by way of a simplified system where needed."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.equations import newton
from movrel.equations.sorting import Block
from movrel.equations.symbolic import Compiled

Array = npt.NDArray[np.float64]


@dataclass(slots=True)
class StartStep:
    """One implicit block of the start; ``function(t, p, m, s)`` gives its matrix and residual or vector."""

    block: Block
    position: int
    function: Compiled


@dataclass(slots=True)
class StartSolver:
    """Solves the implicit blocks in order, then evaluates everything else."""

    steps: list[StartStep]
    size: int
    outputs: Compiled
    has_homotopy: bool

    def solve(self, t: float, p: Array, m: Array, guesses: Array) -> list[Array]:
        """The outputs at the start. Raises :class:`NoStart` with the block that has no solution."""
        return [
            np.array(part).ravel()
            for part in self.outputs.call([t, p, m, self.solve_implicit(t, p, m, guesses)])
        ]

    def solve_implicit(self, t: float, p: Array, m: Array, guesses: Array) -> Array:
        """The unknowns of all implicit blocks."""
        s = guesses.copy()
        for step in self.steps:
            own = slice(step.position, step.position + len(step.block.implicit))
            if step.block.kind == "linear":
                matrix, vector = (np.array(part) for part in step.function(t, p, m, s))
                try:
                    s[own] = np.linalg.solve(matrix, vector.ravel())
                except np.linalg.LinAlgError:
                    s[own] = np.linalg.lstsq(matrix, vector.ravel(), rcond=None)[0]
                    if not np.allclose(matrix @ s[own], vector.ravel(), rtol=1e-9, atol=1e-12):
                        raise NoStart(step.block) from None
                continue
            solution = self._nonlinear(step, own, t, p, m, s)
            if solution is None:
                raise NoStart(step.block)
            s[own] = solution
        return s

    def solve_with_homotopy(self, t: float, p: Array, m: Array, guesses: Array) -> list[Array]:
        """The outputs at the start; where that fails, by way of the simplified system (3.7.4.4).

        Raises :class:`NoStart`.
        """
        try:
            return self.solve(t, p, m, guesses)
        except NoStart:
            if not self.has_homotopy:
                raise
        share, width, s = 0.0, 0.1, guesses
        eased = m.copy()
        while True:
            eased[-1] = share
            try:
                s = self.solve_implicit(t, p, eased, s)
            except NoStart:
                width *= 0.5
                if share == 0.0 or width < 1e-3:
                    raise
                share = max(share - width, 0.0)
                continue
            if share >= 1.0:
                return [np.array(part).ravel() for part in self.outputs.call([t, p, m, s])]
            share = min(share + width, 1.0)

    def _nonlinear(
        self, step: StartStep, own: slice, t: float, p: Array, m: Array, s: Array
    ) -> Array | None:
        def at(z: Array) -> tuple[Array, Array]:
            trial = s.copy()
            trial[own] = z
            matrix, r = step.function(t, p, m, trial)
            return np.array(matrix), np.array(r).ravel()

        return newton.solve(lambda z: at(z)[1], lambda z: at(z)[0], s[own])


class NoStart(Exception):
    """A block of the start has no solution that could be found."""

    def __init__(self, block: Block) -> None:
        super().__init__(block)
        self.block = block
