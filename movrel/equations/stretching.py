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
    n, pattern = matrix.size1(), matrix.sparsity()
    # Entries by their number among those of the given matrix, behind which stand -1 and 1.
    minus, one = pattern.nnz(), pattern.nnz() + 1
    rows: list[list[tuple[int, int]]] = [[] for _ in range(n)]
    for k, (r, c) in enumerate(zip(pattern.row(), pattern.get_col(), strict=True)):
        rows[r].append((c, k))
    extra: list[list[tuple[int, int]]] = []
    for r, row in enumerate(rows):
        while len(row) > LONGEST:
            shorter: list[tuple[int, int]] = []
            for k in range(0, len(row), LONGEST):
                column = n + len(extra)
                extra.append([*row[k : k + LONGEST], (column, minus)])
                shorter.append((column, one))
            row = shorter
        rows[r] = row
    entries = sorted((c, r, k) for r, row in enumerate([*rows, *extra]) for c, k in row)
    size = n + len(extra)
    enlarged = ca.Sparsity.triplet(
        size, size, [r for _, r, _ in entries], [c for c, _, _ in entries]
    )
    values = ca.vertcat(matrix.nz[:], -1, 1)
    return (
        ca.SX(enlarged, values[[k for *_, k in entries]]),
        ca.densify(ca.vertcat(vector, ca.SX(len(extra), 1))),
    )
