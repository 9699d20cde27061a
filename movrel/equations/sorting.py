"""Which equation determines which unknown, and in what order: matching and block triangular form."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Literal, TypeAlias

import casadi as ca

from movrel.equations.linear import linear_parts, solve_for
from movrel.equations.occurrence import incidence
from movrel.equations.starts import Starts
from movrel.equations.tearing import tear
from movrel.errors import StructureFault
from movrel.matching import match
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation

#: How the equations of a block are solved.
BlockKind: TypeAlias = Literal["explicit", "linear", "nonlinear"]


@dataclass(slots=True)
class Block:
    """Equations that must be solved together.

    ``kind`` is ``explicit`` (``solution`` holds the value), ``linear`` (``matrix`` and ``vector``
    with ``matrix * unknowns = vector``, the rows of which hold what is not zero by column) or
    ``nonlinear``: the ``tears`` are found from the ``residuals``, the other unknowns follow from
    them in the order of ``inner``.
    """

    unknowns: Sequence[Variable]
    equations: Sequence[FlatEquation]
    kind: BlockKind
    solution: Expr | None = None
    matrix: list[dict[int, Expr]] | None = None
    vector: list[Expr] | None = None
    inner: Sequence[tuple[Variable, Expr]] = ()
    tears: Sequence[Variable] = ()
    residuals: Sequence[FlatEquation] = ()

    @property
    def implicit(self) -> Sequence[Variable]:
        """The unknowns that a solver finds; all others are written out."""
        return (
            ()
            if self.kind == "explicit"
            else self.unknowns
            if self.kind == "linear"
            else self.tears
        )


def sort_equations(
    equations: list[FlatEquation],
    unknowns: list[Variable],
    starts: Starts | None = None,
    what: str = "model",
) -> list[Block]:
    """The blocks in the order in which they can be solved; unknowns with start values are torn first.

    Raises :class:`StructureFault` with the smallest sets that do not match, in the user's names.
    """
    rows = incidence(equations, unknowns)
    column_of, row_of = match(rows, len(unknowns))
    if -1 in column_of or -1 in row_of:
        raise explain_mismatch(equations, unknowns, rows, column_of, row_of, what)
    return [
        make_block(
            tuple(equations[r] for r in chosen),
            tuple(unknowns[c] for c in members),
            starts or Starts(),
        )
        for chosen, members in block_order(rows, row_of, column_of)
    ]


def block_order(
    rows: list[list[int]], row_of: list[int], column_of: list[int]
) -> list[tuple[list[int], list[int]]]:
    """(rows, columns) of the blocks of a matched system, in solving order."""
    if not rows:
        return []
    # With the matched unknowns on the diagonal, the block triangular form keeps the matching.
    sparsity = ca.Sparsity.triplet(
        len(rows), len(row_of),
        [r for r, row in enumerate(rows) for _ in row],
        [row_of[c] for row in rows for c in row],
    )  # fmt: skip
    count, row_order, column_order, row_starts, column_starts, _, _ = sparsity.btf()
    blocks = []
    for k in range(count):
        chosen = row_order[row_starts[k] : row_starts[k + 1]]
        members = [column_of[c] for c in column_order[column_starts[k] : column_starts[k + 1]]]
        blocks.append((list(chosen), members))
    return blocks


def make_block(
    equations: Sequence[FlatEquation], unknowns: Sequence[Variable], starts: Starts
) -> Block:
    """Decide how a block is solved."""
    if len(equations) == 1:
        solution = solve_for(equations[0].left, equations[0].right, unknowns[0])
        if solution is not None:
            return Block(unknowns, equations, "explicit", solution=solution)
    if all(v.type == "Real" for v in unknowns):
        keys, number = set(unknowns), {v: i for i, v in enumerate(unknowns)}
        matrix, vector = [], []
        for equation in equations:
            parts = linear_parts(x.subtract(equation.left, equation.right), keys)
            if parts is None:
                break
            matrix.append({number[v]: e for v, e in parts[0].items() if not e.is_const(0)})
            vector.append(x.negate(parts[1]))
        else:
            return Block(unknowns, equations, "linear", matrix=matrix, vector=vector)
    inner, tears, residuals = tear(equations, unknowns, starts)
    discrete = [v for v in tears if v.type != "Real"]
    if discrete:
        names = ", ".join(f"'{v.name}'" for v in unknowns if v.type != "Real")
        raise StructureFault(
            f"{names} {'depends' if len(unknowns) == 1 else 'depend'} on {'itself' if len(unknowns) == 1 else 'each other'} "
            f"at the same instant: '{equations[0].as_written()}'.", equations[0].where, "Break the circle with pre(...).",
        )  # fmt: skip
    return Block(unknowns, equations, "nonlinear", inner=inner, tears=tears, residuals=residuals)


def overdetermined(
    surplus: int, rows: list[list[int]], row_of: list[int]
) -> tuple[set[int], set[int]]:
    """The rows that leave no column for the row ``surplus``, it among them, and their columns."""
    reached, stack = {surplus}, [surplus]
    columns: set[int] = set()
    while stack:
        for column in rows[stack.pop()]:
            columns.add(column)
            row = row_of[column]
            if row >= 0 and row not in reached:
                reached.add(row)
                stack.append(row)
    return reached, columns


def explain_mismatch(
    equations: list[FlatEquation], unknowns: list[Variable], rows: list[list[int]],
    column_of: list[int], row_of: list[int], what: str,
    cause: Callable[[list[Variable]], tuple[str, str] | None] = lambda undetermined: None,
) -> StructureFault:  # fmt: skip
    """Say which unknowns lack an equation and which equations are one too many.

    ``cause`` gives the reason why unknowns are not determined, and its cure, in plainer words where there are some.

    The sets are those of the Dulmage-Mendelsohn decomposition: all that alternating paths from an
    unmatched row or column reach.
    """
    sentences = []
    where = None
    plain: tuple[str, str] | None = None
    surplus = [r for r, c in enumerate(column_of) if c < 0]
    if surplus:
        reached, columns = overdetermined(surplus[0], rows, row_of)
        where = equations[surplus[0]].where
        determined = ", ".join(sorted(unknowns[c].name for c in columns)[:6])
        listed = "; ".join(described(equations[r]) for r in sorted(reached)[:6])
        if columns:
            sentences.append(
                f"{len(reached)} equations determine {len(columns)} unknowns ({determined}): {listed}."
            )
        else:
            about = ", ".join(
                v.name for side in equations[surplus[0]].original or () for v in x.variables(side)
            )
            sentences.append(
                f"{listed} is given twice: other equations already determine {about or 'all in it'}."
            )
    missing = [c for c, r in enumerate(row_of) if r < 0]
    if missing:
        by_column: dict[int, list[int]] = {}
        for r, entries in enumerate(rows):
            for c in entries:
                by_column.setdefault(c, []).append(r)
        names: set[int] = set()
        used: set[int] = set()
        stack = [missing[0]]
        while stack:
            column = stack.pop()
            if column in names:
                continue
            names.add(column)
            for row in by_column.get(column, []):
                if row not in used:
                    used.add(row)
                    if column_of[row] >= 0:
                        stack.append(column_of[row])
        plain = cause([unknowns[c] for c in names])
        shown = ", ".join(sorted(unknowns[c].name for c in names)[:8])
        if used:
            listed = "; ".join(described(equations[r]) for r in sorted(used)[:6])
            sentences.append(
                f"only {len(used)} equations for {len(names)} unknowns ({shown}): {listed}."
            )
        else:
            sentences.append(f"no equation determines {shown}.")
        where = where or unknowns[missing[0]].where
    counts = f"the {what} has {len(equations)} equations for {len(unknowns)} unknowns after trivial ones are removed: "
    hint = (
        "Remove or correct one of them."
        if surplus and not missing
        else "Add the missing equations."
    )
    if surplus and missing:
        hint = "Something is given twice while something else is left open."
    if plain is not None:
        counts, hint = f"{plain[0]} {counts[0].upper()}{counts[1:]}", plain[1]
    return StructureFault(counts + " ".join(sentences), where, hint)


def described(equation: FlatEquation) -> str:
    owner = f" in {equation.component}" if equation.component else ""
    line = f", line {equation.where.line}" if equation.where else ""
    return f"'{equation.as_written()}' ({equation.origin}{owner}{line})"
