"""The start of a run: implicit blocks solved one after the other, by way of a simplified system where needed."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np
import numpy.typing as npt
from scipy.sparse import csc_matrix
from scipy.sparse.linalg import splu

from movrel.equations import newton
from movrel.equations.least_squares import smallest
from movrel.equations.sorting import Block
from movrel.equations.stretching import LARGE
from movrel.equations.symbolic import Compiled, Symbolic
from movrel.model.expression import Variable

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Places:
    """Where the unknowns of the start are looked for; ``look(v)`` gives guess, declared size and bounds of one."""

    look: Callable[[Variable], tuple[float, float, float, float]]
    _seen: dict[Variable, tuple[float, float, float, float]] = field(default_factory=dict)

    def of(self, variables: Sequence[Variable]) -> newton.Place:
        """Guesses, sizes and bounds of some unknowns."""
        for v in variables:
            if v not in self._seen:
                self._seen[v] = self.look(v)
        table = np.array([self._seen[v] for v in variables], dtype=float).reshape(-1, 4)
        return newton.Place(*table.T.copy())


def _not_made() -> Compiled:
    raise RuntimeError("whoever reads a system from disk says how this is made")


@dataclass(slots=True)
class StartStep:
    """One implicit block of the start.

    ``function(t, p, m, s)`` gives matrix and vector of a linear block, Jacobian, residuals and sizes of their terms
    of a nonlinear one. ``untorn`` makes the same with another vector ``z`` behind ``s``, of all unknowns of the block,
    by all its equations; it is None where nothing was torn.
    """

    block: Block
    position: int
    function: Compiled
    untorn: Callable[[], Compiled] | None = None

    def __getstate__(self) -> tuple[Block, int, Compiled, bool]:
        """Expressions cannot be kept on disk, only that there are some."""
        return self.block, self.position, self.function, self.untorn is not None

    def __setstate__(self, state: tuple[Block, int, Compiled, bool]) -> None:
        self.block, self.position, self.function, torn = state
        self.untorn = _not_made if torn else None


@dataclass(slots=True)
class StartSolver:
    """Solves the implicit blocks in order, then evaluates everything else."""

    steps: list[StartStep]
    size: int
    outputs: Compiled
    has_homotopy: bool

    @property
    def unknowns(self) -> list[Variable]:
        """The unknowns of all implicit blocks, in the order of ``s``."""
        return [v for step in self.steps for v in step.block.implicit]

    def solve(self, t: float, p: Array, m: Array, place: Places) -> list[Array]:
        """The outputs at the start. Raises :class:`NoStart` with the block that has no solution."""
        s = self.solve_implicit(t, p, m, place.of(self.unknowns).guess, place)
        return [np.array(part).ravel() for part in self.outputs.call([t, p, m, s])]

    def solve_implicit(self, t: float, p: Array, m: Array, guesses: Array, place: Places) -> Array:
        """The unknowns of all implicit blocks."""
        s = guesses.copy()
        for step in self.steps:
            own = slice(step.position, step.position + len(step.block.implicit))
            if step.block.kind == "linear":
                solution = _solved(*step.function(t, p, m, s))
                if solution is None:
                    raise NoStart(step.block)
                s[own] = solution[: len(step.block.implicit)]
                continue
            solution = self._nonlinear(step, own, t, p, m, s, place)
            if solution is None:
                raise NoStart(step.block)
            s[own] = solution
        return s

    def solve_with_homotopy(self, t: float, p: Array, m: Array, place: Places) -> list[Array]:
        """The outputs at the start; where that fails, by way of the simplified system (3.7.4.4).

        Raises :class:`NoStart`.
        """
        try:
            return self.solve(t, p, m, place)
        except NoStart:
            if not self.has_homotopy:
                raise
        share, width, s = 0.0, 0.1, place.of(self.unknowns).guess
        eased = m.copy()
        while True:
            eased[-1] = share
            try:
                s = self.solve_implicit(t, p, eased, s, place)
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
        self, step: StartStep, own: slice, t: float, p: Array, m: Array, s: Array, place: Places
    ) -> Array | None:
        def at(z: Array) -> tuple[Array, Array, Array]:
            trial = s.copy()
            trial[own] = z
            slopes, r, terms = step.function(t, p, m, trial)
            return np.array(r).ravel(), np.array(slopes), np.array(terms).ravel()

        torn = replace(place.of(step.block.implicit), guess=s[own])
        solution = newton.solve(at, torn)
        if solution is not None or step.untorn is None:
            return solution
        whole = step.untorn()

        def untorn(z: Array) -> tuple[Array, Array, Array]:
            slopes, r, terms = whole(t, p, m, s, z)
            return np.array(r).ravel(), np.array(slopes), np.array(terms).ravel()

        every = newton.solve(untorn, place.of(step.block.unknowns))
        if every is None:
            return None
        values = dict(zip(step.block.unknowns, every.tolist(), strict=True))
        return np.array([values[v] for v in step.block.implicit])


def _solved(matrix: Symbolic, vector: Symbolic) -> Array | None:
    """The solution of a linear system, of a singular one the smallest; None where there is none."""
    right = np.array(vector).ravel()
    if len(right) > LARGE and np.isfinite(matrix.nonzeros()).all():
        try:
            return np.asarray(splu(csc_matrix(matrix.sparse())).solve(right))
        except RuntimeError:
            pass  # singular
    dense = np.array(matrix.full())
    try:
        return np.asarray(np.linalg.solve(dense, right))
    except np.linalg.LinAlgError:
        return smallest(dense, right)


class NoStart(Exception):
    """A block of the start has no solution that could be found."""

    def __init__(self, block: Block) -> None:
        super().__init__(block)
        self.block = block
