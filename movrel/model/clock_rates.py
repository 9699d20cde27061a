"""How often clocks tick, from what is said of some of them (specification 16.5, 16.7).

Clocks are compared as nodes of a graph: an edge says that one ticks once in so many ticks of another, and how many
of them later it begins. What is known of one is known of all that edges lead to, in both directions.
"""

from __future__ import annotations

from collections.abc import Hashable
from dataclasses import dataclass, field
from fractions import Fraction
from typing import TypeAlias

from movrel.errors import Place, StructureFault
from movrel.model import expression as x
from movrel.model.clock_calls import CONVERSIONS
from movrel.model.environment import Model
from movrel.model.expression import Expr
from movrel.model.fingerprints import Fingerprints

#: A variable of type Clock, or whatever else has a clock.
Node: TypeAlias = Hashable
#: Ticks of one clock between two of another, at most, where their number is inferred.
MOST_TICKS = 10**6
#: Difference of two intervals, as a share of them, that is rounding.
ROUNDING = 1e-12


@dataclass(frozen=True, slots=True)
class Rate:
    """Once in ``factor`` ticks of a base clock, ``shift`` of them after its first one.

    ``base`` is a ``Clock`` with an interval or a condition.
    """

    base: Expr
    factor: Fraction = Fraction(1)
    shift: Fraction = Fraction(0)

    @property
    def period(self) -> Expr | None:
        """The interval in s where it never changes."""
        interval = self.base.args[0]
        if self.base.value == "event" or any(
            v.variability not in ("parameter", "constant") for v in x.variables(interval)
        ):
            return None
        return self.times(self.factor)

    def times(self, number: Fraction) -> Expr:
        """So many intervals of the base."""
        interval = x.multiply(self.base.args[0], x.const(number.numerator))
        return x.divide(interval, x.const(number.denominator))


@dataclass(slots=True)
class _Edge:
    """The clock at ``end`` ticks once in ``factor`` ticks of the one at ``begin``, and begins ``shift`` of them later."""

    begin: Node
    end: Node
    factor: Fraction | None
    shift: Fraction
    where: Place | None
    solver: bool = False


@dataclass(slots=True)
class Rates:
    """What is said of the clocks of a model, and what follows."""

    model: Model
    names: dict[Node, str] = field(default_factory=dict)
    _edges: dict[Node, list[_Edge]] = field(default_factory=dict)
    _defined: dict[Node, tuple[Expr, Place | None]] = field(default_factory=dict)
    _methods: dict[Node, str] = field(default_factory=dict)
    _rates: dict[Node, Rate] = field(default_factory=dict)
    _nodes: dict[Expr, Node] = field(default_factory=dict)

    def node(self, clock: Expr, where: Place | None) -> Node:
        """The node of a clock that an expression gives."""
        if clock.op == "var":
            self.names.setdefault(clock.variable, clock.variable.name)
            return clock.variable
        if clock in self._nodes:
            return self._nodes[clock]
        if clock.op == "if":
            chosen = self.model.structural_value(clock.args[0], "which clock it is", where)
            node = self._nodes[clock] = self.node(clock.args[1 if chosen else 2], where)
            return node
        self._nodes[clock] = clock
        self.names[clock] = x.show(clock)
        if clock.op in CONVERSIONS:
            self.convert(clock, self.node(clock.args[0], where), clock, where)
        elif clock.value == "inferred":
            pass
        elif isinstance(clock.value, tuple):
            self._join(
                _Edge(self.node(clock.args[0], where), clock, Fraction(1), Fraction(0), where, True)
            )
            self._methods[clock] = clock.value[1]
        else:
            self.define(clock, clock, where)
        return clock

    def define(self, node: Node, clock: Expr, where: Place | None) -> None:
        """A node is a clock with an interval or a condition of its own."""
        self._defined[node] = clock, where

    def same(self, a: Node, b: Node, where: Place | None) -> None:
        """Two nodes tick together."""
        self._join(_Edge(a, b, Fraction(1), Fraction(0), where))

    def convert(self, end: Node, begin: Node, call: Expr, where: Place | None) -> None:
        """A node ticks as a conversion of another one does."""
        numbers = [Fraction(int(a.value)) for a in call.args[1:]]
        factor: Fraction | None = Fraction(1)
        shift = Fraction(0)
        if call.op == "shiftSample":
            shift = numbers[0] / numbers[1]
        elif call.op == "backSample":
            shift = -numbers[0] / numbers[1]
        elif not numbers[0]:
            factor = None  # inferred
        else:
            factor = numbers[0] if call.op == "subSample" else 1 / numbers[0]
        self._join(_Edge(begin, end, factor, shift, where))

    def _join(self, edge: _Edge) -> None:
        self._edges.setdefault(edge.begin, []).append(edge)
        self._edges.setdefault(edge.end, []).append(edge)

    def solve(self) -> None:
        """Work out every rate that follows. Raises :class:`StructureFault` where two contradict each other."""
        self._rates.clear()
        for node, (clock, _) in self._defined.items():
            if node not in self._rates:
                self._spread(node, Rate(clock))
        for edges in self._edges.values():
            for edge in edges:
                if edge.factor is None:
                    self._check_inferred(edge)

    def _spread(self, node: Node, rate: Rate) -> None:
        self._rates[node] = rate
        queue = [node]
        while queue:
            node = queue.pop()
            for edge in self._edges.get(node, []):
                if edge.factor is None:
                    continue
                rate = self._rates[node]
                if node is edge.begin:
                    other = edge.end
                    reached = Rate(
                        rate.base, rate.factor * edge.factor, rate.shift + edge.shift * rate.factor
                    )
                else:
                    other, factor = edge.begin, rate.factor / edge.factor
                    reached = Rate(rate.base, factor, rate.shift - edge.shift * factor)
                before = self._rates.get(other)
                if before is None:
                    self._rates[other] = reached
                    queue.append(other)
                    if other in self._defined and not self._equal(
                        Rate(self._defined[other][0]), reached
                    ):
                        self._refuse(edge, reached, Rate(self._defined[other][0]))
                elif not self._equal(before, reached):
                    self._refuse(edge, reached, before)

    def _equal(self, a: Rate, b: Rate) -> bool:
        if a.base is b.base:
            return a == b
        same = Fingerprints()
        if same(a.base) == same(b.base):
            return (a.factor, a.shift) == (b.factor, b.shift)
        if a.period is None or b.period is None:
            return False
        for p, q in ((a.period, b.period), (a.times(a.shift), b.times(b.shift))):
            one, other = (
                self.model.structural_value(e, "the interval of a clock", None) for e in (p, q)
            )
            if abs(one - other) > ROUNDING * max(abs(one), abs(other)):
                return False
        return True

    def _check_inferred(self, edge: _Edge) -> None:
        begin, end = self._rates.get(edge.begin), self._rates.get(edge.end)
        if begin is None or end is None:
            return
        ratio = self._ratio(begin, end)
        if ratio is None or (ratio.denominator != 1 and ratio.numerator != 1):
            raise StructureFault(
                f"{self._named(edge.end)} does not tick at a multiple of {self._named(edge.begin)}.", edge.where,
                "Derive one clock from the other.",
            )  # fmt: skip

    def _ratio(self, begin: Rate, end: Rate) -> Fraction | None:
        """How many intervals of one an interval of the other is; None where that is no simple number."""
        if begin.base is end.base:
            return end.factor / begin.factor
        if begin.period is None or end.period is None:
            return None
        one, other = (
            self.model.structural_value(e, "the interval of a clock", None)
            for e in (begin.period, end.period)
        )
        ratio = Fraction(other / one).limit_denominator(MOST_TICKS)
        return ratio if abs(float(ratio) * one - other) <= ROUNDING * other else None

    def _refuse(self, edge: _Edge, a: Rate, b: Rate) -> None:
        ends = [n for n in (edge.end, edge.begin) if not isinstance(n, Expr)]
        raise StructureFault(
            f"{self._named((ends or [edge.end])[0])} ticks with {described(a)} and with {described(b)}.", edge.where,
            "Convert one of them with subSample, superSample, shiftSample or backSample, or by sample(hold(...)).",
        )  # fmt: skip

    def _named(self, node: Node) -> str:
        return f"'{self.names.get(node, 'a clock')}'"

    def rate(self, node: Node) -> Rate | None:
        """How often a node ticks, as far as it is known."""
        return self._rates.get(node)

    def method(self, node: Node) -> str:
        """By which method what ticks with a node integrates; empty for none."""
        seen, queue = {node}, [node]
        while queue:
            one = queue.pop()
            if one in self._methods:
                return self._methods[one]
            for edge in self._edges.get(one, []):
                if edge.factor == 1 and not edge.shift and not edge.solver:
                    for other in (edge.begin, edge.end):
                        if other not in seen:
                            seen.add(other)
                            queue.append(other)
        return ""


def described(rate: Rate) -> str:
    """A rate as a person would write it."""
    text = f"Clock({', '.join(x.show(a) for a in rate.base.args)})"
    for number, name in (
        (rate.factor.numerator, "subSample"),
        (rate.factor.denominator, "superSample"),
    ):
        if number != 1:
            text = f"{name}({text}, {number})"
    if rate.shift:
        text += f", begun {float(rate.shift):g} ticks later"
    return text
