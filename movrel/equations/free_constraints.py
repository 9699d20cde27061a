"""Constraints that are left to be kept from outside: every position and velocity is a state.

Where the choice of states would change during a run, a form without a choice is made: the highest derivatives are solved
for, so that all variables below them are states, and the constraints themselves are no equations any more. The solution
keeps them but for what integration adds, which is taken away by projecting the states back onto them (E. Eich, Convergence
results for a coordinate projection method applied to mechanical systems with algebraic constraints, SIAM J. Numer. Anal.
30, 1993).
"""

from __future__ import annotations

from dataclasses import dataclass, replace

from movrel.equations.index_reduction import Chains
from movrel.equations.sort_model import resort
from movrel.equations.sorted_model import Sorted
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation


@dataclass(frozen=True, slots=True)
class FreeConstraints:
    """Equations that are no longer solved, and the states that are corrected where one of them is missed."""

    equations: list[FlatEquation]
    states: set[Variable]


def with_free_constraints(before: Sorted) -> tuple[Sorted, list[FreeConstraints]]:
    """The same model with all variables of its changing constraints as states, and the constraints that were let go:
    positions first, then their derivatives, which are corrected with the positions as they are."""
    reduction = before.reduction
    chains = reduction.chains
    free: list[FreeConstraints] = []
    renamed: set[Variable] = set()
    for block in reduction.dynamic:
        for level in range(len(block.constraints), 0, -1):
            rates = {id(e): _renamed(e, chains) for e in block.constraints[level - 1]}
            renamed |= {rate for rate in rates.values() if rate is not None}
            left = [e for e in block.constraints[level - 1] if rates[id(e)] is None]
            columns = zip(block.columns, block.column_depth, strict=True)
            free.append(
                FreeConstraints(left, {chains.down(v, level) for v, d in columns if d >= level})
            )
    dropped = {id(e) for group in free for e in group.equations}
    held = [
        (block, levels)
        for block, levels in zip(reduction.constraints, before.selection, strict=True)
        if not block.varies
    ]
    changed = replace(
        reduction,
        equations=[e for e in reduction.equations if id(e) not in dropped],
        constraints=[block for block, _ in held],
        renamed=renamed,
    )
    selection = tuple(levels for _, levels in held)
    return resort(replace(before, reduction=changed), selection), [g for g in free if g.equations]


def _renamed(e: FlatEquation, chains: Chains) -> Variable | None:
    """The derivative that an equation as ``der(x) = v`` gives another name."""
    if e.left.op == "var" and e.right.op == "var":
        for side in (e.left, e.right):
            if side.variable in chains.base:
                return side.variable
    return None
