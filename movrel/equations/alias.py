"""Alias removal: ``a = b``, ``a = -b``, ``a + b = 0`` and ``a = number`` leave the system."""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.equations.starts import Starts
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.model.traits import DER


@dataclass(frozen=True, slots=True)
class Alias:
    """A variable that equals ``sign`` times another."""

    of: Variable
    sign: int


@dataclass(slots=True)
class Reduced:
    """What is left after alias removal; ``aliases`` and ``fixed`` are by ``variable``.

    ``starts`` holds the start values that the remaining variables took over; the flat model stays as it is.
    """

    unknowns: list[Variable]
    equations: list[FlatEquation]
    aliases: dict[Variable, Alias] = field(default_factory=dict)
    fixed: dict[Variable, float] = field(default_factory=dict)
    starts: Starts = field(default_factory=Starts)

    def replacement(self) -> dict[Variable, Expr]:
        replacement: dict[Variable, Expr] = {
            key: x.const(value) for key, value in self.fixed.items()
        }
        for key, alias in self.aliases.items():
            target = x.const(self.fixed[alias.of]) if alias.of in self.fixed else x.var(alias.of)
            replacement[key] = target if alias.sign > 0 else x.negate(target)
        return replacement


def remove_aliases(flat: FlatModel) -> Reduced:
    """Take the trivial equations out of a flat model, again until no new ones appear."""
    total = Reduced(flat.unknowns(), [_tidy(e) for e in flat.equations])
    while True:
        step = _pass(total.unknowns, total.equations, total.starts)
        if not step.aliases and not step.fixed:
            for v, number in total.fixed.items():
                total.starts.fix(v, number)
            return total
        for key, alias in total.aliases.items():
            further = step.aliases.get(alias.of)
            if further is not None:
                total.aliases[key] = Alias(further.of, further.sign * alias.sign)
        total.aliases.update(step.aliases)
        total.fixed.update(step.fixed)
        total.unknowns, total.equations = step.unknowns, step.equations


def _tidy(e: FlatEquation) -> FlatEquation:
    """Collect equal terms of an equation that is a plain sum of variables, as connections give."""
    terms: dict[Variable, tuple[Variable, int]] = {}
    stack = [(e.left, 1), (e.right, -1)]
    while stack:
        node, sign = stack.pop()
        if node.op in ("+", "-"):
            stack += [(node.args[0], sign), (node.args[1], sign if node.op == "+" else -sign)]
        elif node.op == "neg":
            stack.append((node.args[0], -sign))
        elif node.op == "var":
            before = terms.get(node.value)
            terms[node.value] = (node.value, (before[1] if before else 0) + sign)
        elif not node.is_const(0):
            return e
    if all(count for _, count in terms.values()):
        return e
    total: Expr = x.ZERO
    for variable, count in terms.values():
        total = x.add(total, x.multiply(x.const(count), x.var(variable))) if count else total
    return FlatEquation(
        total,
        x.ZERO,
        e.where,
        e.component,
        e.kind,
        e.differentiated,
        e.original or (e.left, e.right),
    )


def _pass(unknowns: list[Variable], equations: list[FlatEquation], starts: Starts) -> Reduced:
    allowed = {v for v in unknowns if v.type == "Real"}
    parent: dict[Variable, tuple[Variable, int]] = {}
    rank = {v: _rank(v, starts) for v in unknowns}
    for equation in equations:
        for side in (equation.left, equation.right):
            for node in x.walk(side) if side.traits & DER else ():
                if node.op == "der":
                    for variable in x.variables(node):
                        rank[variable] = rank.get(variable, 0) + 100
    fixed: dict[Variable, float] = {}

    def find(v: Variable) -> tuple[Variable, int]:
        sign = 1
        while v in parent:
            v, s = parent[v]
            sign *= s
        return v, sign

    kept: list[FlatEquation] = []
    for equation in equations:
        pair = _alias_pair(equation, allowed)
        if pair is None:
            kept.append(equation)
            continue
        a, b, sign = pair
        root_a, sign_a = find(a)
        if b is None:
            number = float(sign) * sign_a
            if root_a in fixed:
                kept.append(equation)  # given twice: a structural fault, reported later
            else:
                fixed[root_a] = number
            continue
        root_b, sign_b = find(b)
        relation = int(sign) * sign_a * sign_b
        if root_a is root_b:
            kept.append(equation)
            continue
        if root_a in fixed and root_b in fixed:
            kept.append(equation)
            continue
        if rank[root_b] >= rank[root_a]:
            root_a, root_b = root_b, root_a
        # root_b becomes an alias of root_a
        parent[root_b] = (root_a, relation)
        if root_b in fixed:
            fixed[root_a] = fixed.pop(root_b) * relation
        starts.inherit(root_a, root_b, relation)
    aliases: dict[Variable, Alias] = {}
    remaining = []
    for v in unknowns:
        root, sign = find(v)
        if root is not v:
            aliases[v] = Alias(root, sign)
        elif v not in fixed:
            remaining.append(v)
    reduced = Reduced(remaining, [], aliases, fixed)
    replacement = reduced.replacement()
    for equation in kept:
        left, right = (
            x.substitute(equation.left, replacement),
            x.substitute(equation.right, replacement),
        )
        original = equation.original or (equation.left, equation.right)
        changed = FlatEquation(
            left,
            right,
            equation.where,
            equation.component,
            equation.kind,
            equation.differentiated,
            original,
        )
        reduced.equations.append(_tidy(changed))
    return reduced


def _rank(v: Variable, starts: Starts) -> int:
    """How much a variable deserves to stay: states and variables with start values first."""
    start = starts.of(v)
    return (
        20 * bool(start.fixed)
        + 5 * (start.value is not None)
        + 10 * (starts.attributes(v).state_select in ("prefer", "always"))
    )


def _alias_pair(
    equation: FlatEquation, allowed: set[Variable]
) -> tuple[Variable, Variable | None, float] | None:
    left, right = equation.left, equation.right
    if left.op == "const":
        left, right = right, left
    a = _signed(left, allowed)
    if a is not None:
        if (
            right.op == "const"
            and isinstance(right.value, int | float)
            and not isinstance(right.value, bool)
        ):
            return a[0], None, a[1] * float(right.value)
        b = _signed(right, allowed)
        if b is not None and a[0] is not b[0]:
            return a[0], b[0], a[1] * b[1]
        return None
    if right.is_const(0) and left.op in ("+", "-"):
        p, q = _signed(left.args[0], allowed), _signed(left.args[1], allowed)
        if p is not None and q is not None and p[0] is not q[0]:
            return p[0], q[0], p[1] * q[1] * (-1 if left.op == "+" else 1)
    return None


def _signed(e: Expr, allowed: set[Variable]) -> tuple[Variable, int] | None:
    if e.op == "neg":
        inner = _signed(e.args[0], allowed)
        return (inner[0], -inner[1]) if inner else None
    if e.op == "var" and e.value in allowed:
        return e.value, 1
    return None
