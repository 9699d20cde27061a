"""Motion along a surface whose two sides drive back to it.

Where a switch turns over without end because each of its outcomes leads to the other, the states can only move along
the surface at which it turns. There the outcome gives way to a share: the part that the upper side has in what happens,
an unknown that the equation of the surface determines (the equivalent control: Utkin, Sliding Modes in Control and
Optimization, 1992, chapter 2; for switches that stand linearly in the rates it is the solution of Filippov, Differential
Equations with Discontinuous Righthand Sides, 1988). The surface is a constraint like any other, so index reduction takes
one state out and nothing drifts off. The motion ends when the share leaves the range from 0 to 1.
"""

from __future__ import annotations

from dataclasses import replace

from movrel.equations.index_reduction import reduce_index
from movrel.equations.occurrence import is_held
from movrel.equations.sorted_model import Slide, Sorted, Switch
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.fingerprints import Fingerprints
from movrel.model.flat import FlatEquation

_ABOVE, _BELOW = (">", ">="), ("<", "<=")


def unheld_switches(ordered: Sorted) -> list[Switch]:
    """What jumps between events: ``sign``, and relations that are taken literally."""
    number = Fingerprints()
    switches: dict[int, Switch] = {}
    seen: set[tuple[Expr, bool]] = set()
    stack = [
        (side, False) for b in ordered.blocks for e in b.equations for side in (e.left, e.right)
    ]
    while stack:
        node, literal = stack.pop()
        if not node.args or (node, literal) in seen:
            continue
        seen.add((node, literal))
        literal = literal or node.op == "noevent"
        if node.op == "sign" or (literal and node.op in (*_ABOVE, *_BELOW) and is_held(node)):
            surface = _surface(node)
            switches.setdefault(number(surface), Switch(surface, x.show(node)))
        stack.extend((a, literal) for a in node.args)
    return list(switches.values())


def _surface(node: Expr) -> Expr:
    return node.args[0] if node.op == "sign" else x.subtract(*node.args)


class _Sides:
    """Expressions on either side of a surface, and between."""

    def __init__(self, switch: Switch, share: Expr, equations: list[FlatEquation]) -> None:
        self._number = Fingerprints()
        self._upper, self._lower = (
            {self._number(e), self._number(x.subtract(e, x.ZERO))}
            for e in (switch.surface, _opposite(switch.surface))
        )
        self._share = share
        self._done: dict[bool, dict[Expr, Expr]] = {True: {}, False: {}}
        self._between: dict[Expr, Expr] = {}
        self.defined = {
            e.left.variable: e.right
            for e in equations
            if e.left.op == "var" and e.left.variable.variability == "discrete"
        }
        self.affected: set[Variable] = set()
        while True:
            more = {v for v, e in self.defined.items() if v not in self.affected and self.turns(e)}
            if not more:
                break
            self.affected |= more

    def upper_side(self, node: Expr) -> bool | None:
        """Whether a switch says that the surface's expression is positive where it is true, None for another node."""
        if node.op not in (*_ABOVE, *_BELOW, "sign"):
            return None
        number = self._number(_surface(node))
        if number in self._upper:
            return node.op not in _BELOW
        return node.op in _BELOW if number in self._lower else None

    def turns(self, e: Expr) -> bool:
        """Whether an expression jumps at the surface."""
        return any(
            (node.op == "var" and node.value in self.affected) or self.upper_side(node) is not None
            for node in x.walk(e)
        )

    def at(self, e: Expr, upper: bool) -> Expr:
        """The expression as it is above the surface or below."""

        def change(node: Expr) -> Expr | None:
            if node.op == "var" and node.value in self.affected:
                return self.at(self.defined[node.value], upper)
            side = self.upper_side(node)
            if side is None:
                return None
            if node.op == "sign":
                return x.const(1.0 if side == upper else -1.0)
            return x.const(side == upper)

        return x.transform(e, change, self._done[upper])

    def between(self, e: Expr) -> Expr:
        """The expression on the surface, where both sides have their share."""

        def change(node: Expr) -> Expr | None:
            turning = (node.op == "if" and self.turns(node.args[0])) or (
                self.upper_side(node) is not None
                if node.op == "sign"
                else node.op == "var"
                and node.value in self.affected
                and node.variable.type != "Boolean"
            )
            if not turning:
                return None
            above, below = self.at(node, True), self.at(node, False)
            return x.add(below, x.multiply(self._share, x.subtract(above, below)))

        return x.transform(e, change, self._between)


def _opposite(e: Expr) -> Expr:
    return x.subtract(e.args[1], e.args[0]) if e.op == "-" else x.negate(e)


def slide(before: Sorted, switch: Switch, upper: bool) -> Sorted | None:
    """The model on the surface of a switch, not yet sorted; None where it cannot stay there.

    That is where something counts the turns of the switch or remembers its outcome, and where the switch does not drive
    the rate of the surface. ``upper`` is the side whose outcome discrete variables keep. Raises :class:`MovrelError`
    where the equations do not determine the share.
    """
    reduction = before.reduction
    plain = reduction.equations[: len(reduction.equations) - reduction.differentiated]
    share = Variable(f"share of {switch.text}", generated=True)
    end = Variable(f"end of {switch.text}", "Boolean", "discrete", generated=True)
    sides = _Sides(switch, x.var(share), plain)
    actions = [r.active for r in before.reinits] + [e.active for e in before.terminations]
    if (
        before.units
        or any(v in before.pre.by_variable for v in sides.affected)
        or any(sides.turns(e) for e in actions)
    ):
        return None

    def on_surface(e: FlatEquation) -> FlatEquation:
        if e.left.op == "var" and e.left.variable in sides.affected:
            left, right = e.left, sides.at(e.right, upper)
        else:
            left, right = (sides.at(sides.between(side), upper) for side in (e.left, e.right))
        if left is e.left and right is e.right:
            return e
        return replace(e, left=left, right=right, original=e.original or (e.left, e.right))

    part = x.var(share)
    equations = [
        *(on_surface(e) for e in plain),
        FlatEquation(switch.surface, x.ZERO, None, kind="sliding"),
        FlatEquation(
            x.var(end), x.disjunction(Expr("<", (part, x.ZERO)), Expr(">", (part, x.ONE))), None
        ),
    ]
    slides = [*before.slides, Slide(switch, share, end)]
    unknowns = [*before.reduced.unknowns, *(v for s in slides for v in (s.share, s.end))]
    reduced = reduce_index(equations, unknowns, reduction.chains.again(equations, set(unknowns)))
    if sum(e.kind == "sliding" and e.differentiated for e in reduced.equations) != len(slides):
        return None
    assertions = [replace(a, condition=sides.at(a.condition, upper)) for a in before.assertions]
    return replace(
        before, reduction=reduced, states=[], blocks=[], equations=[*reduced.equations], assertions=assertions,
        slides=slides,
    )  # fmt: skip


def outcome(switch: Switch, surface: Expr, upper: bool) -> bool | None:
    """Whether ``surface`` is positive on a side of a switch, None where it is another surface."""
    number = Fingerprints()
    for own, same in ((switch.surface, True), (_opposite(switch.surface), False)):
        if number(own) == number(surface):
            return upper is same
    return None
