"""Jacobians whose rows with many entries are worked out apart from the others.

A compressed Jacobian takes one sweep for each group of columns that share no row, or of rows that share no column
(Curtis, Powell and Reid, J. Inst. Maths Applics 13, 1974). One node at which n branches meet has a full row and a full
column, hence n groups either way. Without its full rows the pattern takes a few sweeps, and each of them one.
"""

from __future__ import annotations

import casadi as ca
import numpy as np

from movrel.equations.symbolic import Symbolic

#: Times the mean number of entries, and entries, from which on a row is worked out apart.
LONG, FEWEST = 8, 30


def sparse_jacobian(rows: Symbolic, unknowns: Symbolic) -> Symbolic:
    """The derivatives of ``rows``, shape ``(m,)``, by the symbols ``unknowns``, shape ``(n,)``: sparse, ``(m, n)``."""
    pattern = ca.jacobian_sparsity(rows, unknowns)
    lengths = np.bincount(np.array(pattern.row(), dtype=np.int64), minlength=rows.size1())
    long = lengths > max(LONG * lengths.mean(), FEWEST) if len(lengths) else np.zeros(0, dtype=bool)
    if not long.any():
        return ca.jacobian(rows, unknowns)
    order = [*np.nonzero(~long)[0].tolist(), *np.nonzero(long)[0].tolist()]
    short = len(order) - int(long.sum())
    parts = [ca.jacobian(rows[order[:short]], unknowns)]
    parts += [ca.jacobian(rows[k], unknowns) for k in order[short:]]
    return ca.vertcat(*parts)[np.argsort(order).tolist(), :]
