"""Which variables of the constraints remain as states: the derivatives that become plain unknowns, and when another choice
is better (Mattsson and Söderlind, SIAM J. Sci. Comput. 14, 1993).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.errors import StructureFault
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation

Array = npt.NDArray[np.float64]

#: A choice is given up when a chosen derivative depends this strongly on a free one; another one is made in which none
#: does more than once.
CONDITION_LIMIT = 2.0
#: Gain of an exchange that is mere rounding.
ROUNDING = 1e-9

#: How much a variable wants to be a state: as the model says, and the weight of its pivot otherwise.
Willingness = tuple[int, float]


@dataclass(slots=True)
class ConstraintBlock:
    """Highest-order equations that are solved together, some of them differentiated.

    ``matrix`` holds the derivatives of the differentiated equations (rows) by the highest-order
    unknowns (columns); ``row_depth`` and ``column_depth`` say how often each was differentiated.
    ``constraints`` are what was differentiated: first what was once, last what was most often.
    """

    equations: list[FlatEquation]
    constraints: list[list[FlatEquation]]
    row_depth: list[int]
    columns: list[Variable]
    column_depth: list[int]
    willingness: list[list[Willingness]]
    matrix: list[list[Expr]]

    @property
    def varies(self) -> bool:
        """Whether the matrix changes in time, so that a choice may wear out."""
        return any(
            v.variability != "parameter" for row in self.matrix for e in row for v in x.variables(e)
        ) and (
            len(self.columns) > len(self.equations) or max(self.row_depth) > 1 or self._has_choice()
        )

    def _has_choice(self) -> bool:
        return sum(d > 0 for d in self.column_depth) > len(self.equations)


#: For each block, for each level, the columns whose derivatives become unknowns.
Selection = tuple[tuple[tuple[int, ...], ...], ...]


def select(block: ConstraintBlock, matrix: Array) -> tuple[tuple[int, ...], ...]:
    levels: list[tuple[int, ...]] = []
    candidates = [c for c, d in enumerate(block.column_depth) if d >= 1]
    for level in range(1, max(block.row_depth) + 1):
        rows = [r for r, d in enumerate(block.row_depth) if d >= level]
        usable = [c for c in candidates if block.column_depth[c] >= level]
        wants = {c: block.willingness[c][level - 1] for c in usable}
        chosen = _pivots(matrix[rows], usable, wants)
        if len(chosen) < len(rows):
            lost = ", ".join(f"'{block.equations[r].as_written()}'" for r in rows[:3])
            if not block.varies:
                raise StructureFault(
                    f"the constraints {lost} repeat or contradict each other.",
                    block.equations[rows[0]].where,
                    "Remove one of them.",
                )
            raise StructureFault(
                f"the constraints {lost} do not determine each other where the run stands: they are singular there.",
                block.equations[rows[0]].where, "Start somewhere else, or mark a variable with stateSelect.",
            )  # fmt: skip
        levels.append(tuple(sorted(chosen)))
        candidates = sorted(chosen)
    return tuple(levels)


def _pivots(matrix: Array, usable: list[int], wants: dict[int, Willingness]) -> list[int]:
    """Columns with the best pivots, those that least want to be states first."""
    work = matrix.astype(float).copy()
    size = np.abs(work[:, usable]).max(initial=0.0)
    open_rows = list(range(len(work)))
    chosen: list[int] = []
    for wish in sorted({hard for hard, _ in wants.values()}):
        columns = [c for c in usable if wants[c][0] == wish]
        while open_rows and columns:
            part = np.abs(work[np.ix_(open_rows, columns)])
            r, c = np.unravel_index(
                int(np.argmax(part * [wants[c][1] for c in columns])), part.shape
            )
            if not part[r, c] > 1e-9 * size:
                break
            row, column = open_rows[r], columns[c]
            chosen.append(column)
            open_rows.remove(row)
            columns.remove(column)
            for other in open_rows:
                work[other] -= work[row] * (work[other, column] / work[row, column])
    return chosen


class _Exchange:
    """Columns of one level that may change places with chosen ones."""

    def __init__(
        self, block: ConstraintBlock, level: int, chosen: list[int], candidates: list[int]
    ) -> None:
        rows = [r for r, d in enumerate(block.row_depth) if d >= level]
        self.free = [c for c in candidates if c not in chosen and block.column_depth[c] >= level]
        own, other = (
            np.array([block.willingness[c][level - 1][0] for c in group], dtype=int)
            for group in (chosen, self.free)
        )
        self._inner, self._outer = np.ix_(rows, chosen), np.ix_(rows, self.free)
        # What wants to be a state more than the chosen one stays free.
        self._allowed = own[:, None] >= other[None, :]

    def shares(self, matrix: Array) -> Array:
        """How much chosen derivatives depend on free ones, shape ``(chosen, free)``; infinite where that is singular."""
        inner, outer = matrix[self._inner], matrix[self._outer]
        with np.errstate(all="ignore"):
            try:
                shares = outer / inner if len(inner) == 1 else np.linalg.solve(inner, outer)
            except np.linalg.LinAlgError:
                shares = np.full(self._allowed.shape, np.inf)
        shares = np.abs(shares)
        shares[np.isnan(shares)] = np.inf
        return np.where(self._allowed, shares, 0.0)


def exchanges(block: ConstraintBlock, levels: tuple[tuple[int, ...], ...]) -> list[_Exchange]:
    candidates = [c for c, d in enumerate(block.column_depth) if d >= 1]
    result = []
    for level, columns in enumerate(levels, 1):
        exchange = _Exchange(block, level, list(columns), candidates)
        if exchange.free:
            result.append(exchange)
        candidates = list(columns)
    return result


def improved(
    block: ConstraintBlock, levels: tuple[tuple[int, ...], ...], matrix: Array
) -> tuple[tuple[int, ...], ...]:
    """Exchange columns as long as that makes the determinant of the chosen ones larger.

    Goreinov, Oseledets, Savostyanov, Tyrtyshnikov and Zamarashkin, "How to find a good submatrix", in Matrix Methods:
    Theory, Algorithms and Applications (World Scientific 2010).
    """
    result: list[tuple[int, ...]] = []
    candidates = [c for c, d in enumerate(block.column_depth) if d >= 1]
    for level, columns in enumerate(levels, 1):
        chosen = list(columns)
        if not set(chosen) <= set(candidates):
            rows = [r for r, d in enumerate(block.row_depth) if d >= level]
            usable = [c for c in candidates if block.column_depth[c] >= level]
            wants = {c: block.willingness[c][level - 1] for c in usable}
            chosen = _pivots(matrix[rows], usable, wants)
            if len(chosen) < len(rows):
                return levels
        for _ in range(len(chosen) * len(candidates) + 1):
            exchange = _Exchange(block, level, chosen, candidates)
            shares = exchange.shares(matrix)
            if shares.max(initial=0.0) <= 1.0 + ROUNDING:
                break
            i, j = np.unravel_index(int(np.argmax(shares)), shares.shape)
            if not np.isfinite(shares[i, j]):
                return select(block, matrix)
            chosen[int(i)] = exchange.free[int(j)]
        result.append(tuple(sorted(chosen)))
        candidates = sorted(chosen)
    return tuple(result)
