"""Long rows of sparse matrices, split so that orthogonal factors stay sparse.

A row with many entries, such as the balance of a node at which hundreds of branches meet, fills the factors of
a QR decomposition. It is written as a tree of short sums, each with an unknown of its own (row stretching: Alvarado,
"Matrix enlarging methods and their application", BIT 37, 1997; Andersen, "A modified Schur-complement method for handling
dense columns", ACM TOMS 22, 1996). The other unknowns keep their numbers and values.
"""

from __future__ import annotations

import casadi as ca

from movrel.equations.symbolic import Symbolic

#: Entries that a row may have.
LONGEST = 10
#: Unknowns of a block above which its matrix is kept sparse and stretched.
LARGE = 50


def stretched(matrix: Symbolic, vector: Symbolic) -> tuple[Symbolic, Symbolic]:
    """Matrix and vector of the enlarged system, whose first unknowns are those of the given one."""
    n = matrix.size1()
    rows: list[list[tuple[int, Symbolic]]] = [[] for _ in range(n)]
    pattern = matrix.sparsity()
    for r, c, entry in zip(pattern.row(), pattern.get_col(), matrix.nonzeros(), strict=True):
        rows[r].append((c, entry))
    extra: list[list[tuple[int, Symbolic]]] = []
    minus, one = ca.SX(-1), ca.SX(1)
    for r, row in enumerate(rows):
        while len(row) > LONGEST:
            shorter: list[tuple[int, Symbolic]] = []
            for k in range(0, len(row), LONGEST):
                column = n + len(extra)
                extra.append([*row[k : k + LONGEST], (column, minus)])
                shorter.append((column, one))
            row = shorter
        rows[r] = row
    entries = sorted(
        ((c, r, entry) for r, row in enumerate([*rows, *extra]) for c, entry in row),
        key=lambda item: item[:2],
    )
    size = n + len(extra)
    enlarged = ca.Sparsity.triplet(
        size, size, [r for _, r, _ in entries], [c for c, _, _ in entries]
    )
    return (
        ca.SX(enlarged, ca.vertcat(*[entry for *_, entry in entries])),
        ca.densify(ca.vertcat(vector, ca.SX(len(extra), 1))),
    )
