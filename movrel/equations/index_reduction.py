"""Index reduction: which equations must be differentiated, and which variables remain as states.

Pantelides, "The consistent initialization of differential-algebraic systems", SIAM J. Sci. Stat.
Comput. 9 (1988), finds the equations to differentiate; Mattsson and Söderlind, "Index reduction in
differential-algebraic equations using dummy derivatives", SIAM J. Sci. Comput. 14 (1993), choose the
derivatives that become plain unknowns. The choice rests on a matrix that may change during a run;
then another choice is made (dynamic state selection).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from itertools import zip_longest

import numpy as np
import numpy.typing as npt

from movrel.equations.derivative import time_derivative
from movrel.equations.linear import linear_parts
from movrel.equations.occurrence import incidence, occurring
from movrel.equations.sorting import block_order
from movrel.equations.starts import Starts
from movrel.equations.state_choice import (
    CONDITION_LIMIT,
    ConstraintBlock,
    Selection,
    Willingness,
    exchanges,
    improved,
    select,
)
from movrel.errors import StructureFault, Unsupported
from movrel.matching import augmenting_path, match
from movrel.model import expression as x
from movrel.model.expression import Expr, Scalar, Variable
from movrel.model.flat import FlatEquation

Array = npt.NDArray[np.float64]

#: How often one equation may be differentiated.
DEPTH_LIMIT = 8
_WILLINGNESS = {"never": 0, "avoid": 1, "default": 2, "prefer": 3, "always": 4}
#: How much larger a pivot counts when it is the derivative of an unnamed or of a fixed variable.
_UNNAMED, _FIXED = 3.0, 0.3


class Chains:
    """Variables and their derivatives: ``rate(v)`` is the variable that stands for ``der(v)``."""

    def __init__(self, allowed: set[Variable], starts: Starts) -> None:
        self.allowed = allowed
        self.starts = starts
        self.rates: dict[Variable, Variable] = {}
        self.base: dict[Variable, Variable] = {}
        self._known: dict[Variable, Variable] = {}

    def again(self, equations: list[FlatEquation], allowed: set[Variable]) -> Chains:
        """Chains for other equations, with the same variables for what has the same name there."""
        other = Chains(allowed, self.starts)
        other._known = self.rates
        for e in equations:
            for v in (v for side in (e.left, e.right) for v in x.variables(side)):
                while v in self.base:
                    other.rates[self.base[v]], other.base[v] = v, self.base[v]
                    v = self.base[v]
        return other

    def rate(self, v: Variable) -> Expr:
        return x.var(self.rate_variable(v))

    def rate_variable(self, v: Variable) -> Variable:
        rate = self.rates.get(v)
        if rate is None:
            if v not in self.allowed and v not in self.base:
                raise Unsupported(
                    f"the derivative of the input '{v.name}' is not known.", v.where,
                    "Use the slope of a filtered signal: T*der(y) = u - y.",
                )  # fmt: skip
            if v.type != "Real":
                raise StructureFault(
                    f"'{v.name}' is {v.type}; only Real variables have a derivative.", v.where
                )
            rate = self._known.get(v) or self._new_rate(v)
            self.rates[v] = rate
            self.base[rate] = v
        return rate

    @staticmethod
    def _new_rate(v: Variable) -> Variable:
        rate = Variable(f"der({v.name})", component=v.component, where=v.where, generated=True)
        rate.unit = (
            (f"({v.unit})/s" if set(v.unit) & set("./") else f"{v.unit}/s") if v.unit else ""
        )
        return rate

    def depth(self, v: Variable) -> int:
        count = 0
        while v in self.base:
            v = self.base[v]
            count += 1
        return count

    def down(self, v: Variable, levels: int) -> Variable:
        for _ in range(levels):
            v = self.base[v]
        return v


@dataclass(slots=True)
class Reduction:
    """All equations, the differentiated ones included, and the choice of states that they leave.

    ``renamed`` are derivatives that are no states in any choice, as an equation says which variable they are.
    """

    equations: list[FlatEquation]
    variables: list[Variable]
    chains: Chains
    constraints: list[ConstraintBlock] = field(default_factory=list)
    differentiated: int = 0
    renamed: set[Variable] = field(default_factory=set)

    @property
    def dynamic(self) -> list[ConstraintBlock]:
        return [b for b in self.constraints if b.varies]

    def select(self, matrices: list[Array]) -> Selection:
        """The best choice for given values of the matrices of all constraint blocks."""
        return tuple(select(b, m) for b, m in zip(self.constraints, matrices, strict=True))

    def dummies(self, selection: Selection) -> set[Variable]:
        """Identities of the derivatives that become plain unknowns."""
        dummies: set[Variable] = set()
        for block, levels in zip(self.constraints, selection, strict=True):
            for level, columns in enumerate(levels):
                dummies |= {self.chains.down(block.columns[c], level) for c in columns}
        return dummies

    def states(self, selection: Selection) -> list[Variable]:
        dummies, rates = self.dummies(selection), self.chains.rates
        return [
            v
            for v in self.variables
            if v in rates and rates[v] not in dummies and v not in self.renamed
        ]

    def wear(self, selection: Selection) -> Callable[[list[Array]], bool]:
        """Whether the chosen derivatives depend too strongly on those that were left free, as a function of the
        matrices."""
        possible = [
            (k, exchange)
            for k, (block, levels) in enumerate(zip(self.constraints, selection, strict=True))
            if block.varies
            for exchange in exchanges(block, levels)
        ]

        def worn_out(matrices: list[Array]) -> bool:
            return any(
                exchange.shares(matrices[k]).max(initial=0.0) > CONDITION_LIMIT
                for k, exchange in possible
            )

        return worn_out

    def improved(self, selection: Selection, matrices: list[Array]) -> Selection:
        """The choice in which no chosen derivative depends on a free one more than once."""
        return tuple(
            improved(b, s, m) if b.varies else s
            for b, s, m in zip(self.constraints, selection, matrices, strict=True)
        )


def reduce_index(
    equations: list[FlatEquation], unknowns: list[Variable], chains: Chains
) -> Reduction:
    """Differentiate as many equations as needed for all highest derivatives to be determined.

    ``unknowns`` are all unknowns without their derivatives; equations and unknowns must match when a
    variable and its derivatives count as one.
    """
    enlarged = list(equations)
    successor: dict[int, int] = {}
    tops = [v for v in _with_rates(unknowns, chains) if v not in chains.rates]
    rows = incidence(enlarged, tops)
    column_of, _ = match(rows, len(tops))
    if -1 in column_of:
        successor = _pantelides(enlarged, chains)
    variables = _with_rates(unknowns, chains)
    reduction = Reduction(enlarged, variables, chains, differentiated=len(successor))
    if successor:
        reduction.constraints = _constraint_blocks(enlarged, successor, variables, chains)
    return reduction


def _with_rates(unknowns: list[Variable], chains: Chains) -> list[Variable]:
    """The unknowns, each followed by its derivatives."""
    result = []
    for v in unknowns:
        result.append(v)
        while v in chains.rates:
            v = chains.rates[v]
            result.append(v)
    return result


def _pantelides(equations: list[FlatEquation], chains: Chains) -> dict[int, int]:
    """Appends differentiated equations; returns the number of the successor of each that has one."""
    holds = [_variables_of(e) for e in equations]
    successor: dict[int, int] = {}
    depth = [0] * len(equations)
    assigned: dict[Variable, int] = {}

    def highest_orders(e: int) -> Iterator[Variable]:
        return (
            v
            for v in holds[e]
            if v not in chains.rates and (v in chains.allowed or v in chains.base)
        )

    for start in range(len(equations)):
        e = start
        while True:
            seen: dict[Variable, None] = {}
            path = augmenting_path(e, highest_orders, assigned.get, seen)
            if path is not None:
                assigned.update((column, row) for row, column in path)
                break
            for v in seen:
                chains.rate_variable(v)
            for q in [e, *(assigned[v] for v in seen)]:
                if depth[q] >= DEPTH_LIMIT:
                    raise Unsupported(
                        f"'{equations[q].as_written()}' would have to be differentiated more than {DEPTH_LIMIT} times.",
                        equations[q].where, "Are constraints given twice?",
                    )  # fmt: skip
                successor[q] = len(equations)
                equations.append(_differentiated(equations[q], chains))
                holds.append(_variables_of(equations[-1]))
                depth.append(depth[q] + 1)
            for v in seen:
                assigned[chains.rates[v]] = successor[assigned[v]]
            e = successor[e]
    return successor


def _variables_of(e: FlatEquation) -> list[Variable]:
    return list(dict.fromkeys(v for side in (e.left, e.right) for v in occurring(side)))


def _differentiated(e: FlatEquation, chains: Chains) -> FlatEquation:
    left = time_derivative(e.left, chains.rate, e.where)
    right = time_derivative(e.right, chains.rate, e.where)
    return FlatEquation(left, right, e.where, e.component, e.kind, differentiated=True)


def _constraint_blocks(
    equations: list[FlatEquation],
    successor: dict[int, int],
    variables: list[Variable],
    chains: Chains,
) -> list[ConstraintBlock]:
    predecessor = {b: a for a, b in successor.items()}

    def before(e: int) -> Iterator[int]:
        while e in predecessor:
            e = predecessor[e]
            yield e

    def depth(e: int) -> int:
        return sum(1 for _ in before(e))

    top_equations = [i for i in range(len(equations)) if i not in successor]
    top_variables = [v for v in variables if v not in chains.rates]
    rows = incidence([equations[i] for i in top_equations], top_variables)
    column_of, row_of = match(rows, len(top_variables))
    if -1 in column_of or -1 in row_of:
        lost = [equations[top_equations[r]] for r, c in enumerate(column_of) if c < 0]
        raise StructureFault(
            "the constraints of the model contradict or repeat each other"
            + (f": '{lost[0].as_written()}'." if lost else "."), lost[0].where if lost else None, "Remove one of them.",
        )  # fmt: skip
    blocks = []
    for chosen, columns in block_order(rows, row_of, column_of):
        members = [(top_equations[r], depth(top_equations[r])) for r in chosen]
        derived = [(e, d) for e, d in members if d > 0]
        if not derived:
            continue
        unknowns = [top_variables[c] for c in columns]
        keys = set(unknowns)
        matrix = []
        for e, _ in derived:
            parts = linear_parts(x.subtract(equations[e].left, equations[e].right), keys)
            assert parts is not None, (
                "a differentiated equation is linear in its highest derivatives"
            )
            matrix.append([parts[0].get(v, x.ZERO) for v in unknowns])
        depths = [chains.depth(v) for v in unknowns]
        willingness = [
            [_willing(chains.down(v, k + 1), chains.starts) for k in range(d)]
            for v, d in zip(unknowns, depths, strict=True)
        ]
        blocks.append(
            ConstraintBlock(
                [equations[e] for e, _ in derived],
                _by_level([equations[lower] for lower in before(e)] for e, _ in derived),
                [d for _, d in derived],
                unknowns,
                depths,
                willingness,
                matrix,
            )
        )
    return blocks


def _by_level(chains: Iterable[list[FlatEquation]]) -> list[list[FlatEquation]]:
    """Of several chains the first equations, the second ones, and so on."""
    return [[e for e in level if e is not None] for level in zip_longest(*chains)]


def _willing(v: Variable, starts: Starts) -> Willingness:
    return _WILLINGNESS[
        starts.attributes(v).state_select
    ], _UNNAMED if v.generated else _FIXED if starts.of(v).fixed else 1.0


def guessed_matrices(reduction: Reduction, values: dict[Variable, Scalar]) -> list[Array]:
    """The matrices of the constraint blocks at given values; what has none gets a value at random."""
    rng = np.random.default_rng(1)
    filled = dict(values)
    for block in reduction.constraints:
        for row in block.matrix:
            for e in row:
                for v in x.variables(e):
                    filled.setdefault(v, float(rng.uniform(0.5, 1.5)))
    matrices = []
    for block in reduction.constraints:
        made = np.zeros((len(block.equations), len(block.columns)))
        for i, row in enumerate(block.matrix):
            for j, e in enumerate(row):
                try:
                    made[i, j] = float(x.evaluate(e, filled))
                except (ArithmeticError, ValueError, KeyError, TypeError):
                    made[i, j] = float(rng.uniform(0.5, 1.5))
        matrices.append(np.where(np.isfinite(made), made, 1.0))
    return matrices
