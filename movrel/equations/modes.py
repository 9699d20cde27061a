"""``pre``, ``edge``, ``initial`` and ``sample`` in the two systems: at the start and during the run.

``pre(v)`` becomes a variable. During the run it is known (event memory); at the start it is unknown
and equals the start value unless an initial equation says otherwise (specification 8.6).
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from movrel.equations.starts import Starts
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.fingerprints import Fingerprints
from movrel.model.flat import FlatEquation
from movrel.model.traits import DELAY, FIRES, INITIAL, PRE, TRAITS


@dataclass(slots=True)
class PreVariables:
    """The variables that stand for ``pre(v)``, by the identity of ``v``."""

    starts: Starts
    by_variable: dict[Variable, Variable] = field(default_factory=dict)
    of: list[Variable] = field(default_factory=list)

    @property
    def all(self) -> list[Variable]:
        return [self.by_variable[v] for v in self.of]

    def value(self, v: Variable) -> Expr:
        pre = self.by_variable.get(v)
        if pre is None:
            pre = Variable(
                f"pre({v.name})", v.type, "discrete", v.unit, where=v.where, component=v.component
            )
            start = self.starts.of(v)
            pre.start, pre.fixed, pre.generated = (
                start.value,
                start.fixed if v.variability == "discrete" else None,
                True,
            )
            self.by_variable[v] = pre
            self.of.append(v)
        return x.var(pre)

    def in_place_of_pre(self, e: Expr) -> Expr:
        """The expression with every ``pre(v)`` replaced by its variable; ``edge`` is prepared for."""
        if not e.traits & (PRE | FIRES):
            return e

        def change(node: Expr) -> Expr | None:
            if node.op == "pre" and node.args[0].op == "var":
                return self.value(node.args[0].variable)
            if node.op == "fires":
                self.value(node.args[0].variable)
            return None

        return x.transform(e, change)


def during_run(pre: PreVariables) -> Callable[[Expr], Expr]:
    """Turns an expression into its form between and at events."""

    def change(node: Expr) -> Expr | None:
        if node.op == "fires":
            return x.conjunction(node.args[0], x.opposite(pre.value(node.args[0].variable)))
        return x.FALSE if node.op == "initial" else None

    return lambda e: x.transform(e, change) if e.traits & (FIRES | INITIAL) else e


def at_start(e: Expr) -> Expr:
    """The form of an expression in the initial system: nothing fires, ``initial()`` is true."""

    def change(node: Expr) -> Expr | None:
        if node.op == "delay":
            return node.args[0]  # before the start everything was as it is at the start
        return x.FALSE if node.op == "fires" else x.TRUE if node.op == "initial" else None

    return x.transform(e, change) if e.traits & (DELAY | FIRES | INITIAL) else e


def changed(e: FlatEquation, change: Callable[[Expr], Expr]) -> FlatEquation:
    """An equation with both sides transformed; its origin stays."""
    left, right = change(e.left), change(e.right)
    if left is e.left and right is e.right:
        return e
    return FlatEquation(
        left, right, e.where, e.component, e.kind, e.differentiated, e.original or (e.left, e.right)
    )


def nodes_in(expressions: list[Expr], op: str) -> list[Expr]:
    """Every distinct node of one operator, such as ``sample(start, interval)``."""
    number = Fingerprints()
    nodes: dict[int, Expr] = {}
    for e in expressions:
        if not e.traits & TRAITS[op]:
            continue
        for node in x.walk(e):
            if node.op == op:
                nodes.setdefault(number(node), node)
    return list(nodes.values())
