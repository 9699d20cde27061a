"""What ticks, written out as discrete equations: a value is worked out at a tick and kept until the next.

Clocks with an interval become ``sample``; a clock with a varying interval notes when it ticks next; one with a
condition ticks when that becomes true; what ticks less often than such a clock counts its ticks.
"""

from __future__ import annotations

from collections.abc import Callable

from movrel.errors import Place, StructureFault, Unsupported
from movrel.matching import match
from movrel.model import expression as x
from movrel.model.clock_calls import CROSSINGS
from movrel.model.clock_rates import Node, Rate, Rates, described
from movrel.model.clocked_integration import discretise
from movrel.model.expression import TIME, Expr, Variable
from movrel.model.fingerprints import Fingerprints
from movrel.model.flat import Assertion, FlatEquation, FlatModel
from movrel.model.partition import Partition
from movrel.model.traits import RELATION, ROUNDING


class Writer:
    """Adds the discrete equations of partitions to a flat model; ``of`` says with what each variable ticks."""

    def __init__(self, flat: FlatModel, rates: Rates, of: dict[Variable, Partition]) -> None:
        self.flat = flat
        self.rates = rates
        self.of = of
        self._ticks = Ticks(flat, self._everywhere)

    def write(self, partition: Partition) -> None:
        """The equations of one partition. Raises :class:`StructureFault` where they do not determine it."""
        if partition.method and not partition.written:
            discretise(partition, self.flat)
        rate = self._rate(partition, partition.where)
        self._ticks.where = partition.where
        if partition.written:
            self.flat.equations.extend(self._replaced(e, rate) for e in partition.equations)
            return
        tick = self._ticks.tick(rate)
        for e, v in self._matched(partition):
            e.original = e.original or (e.left, e.right)
            if v.type == "Real":
                v.variability = "discrete"
            stays = _is_alias(e) and partition.clock is None
            self._replaced(e, rate)
            if not stays:
                _at_ticks(e, v, tick)
            self.flat.equations.append(e)

    def finish(self) -> None:
        """Put clocks, ticks and held values into everything else."""
        for v in self.flat.variables:
            if v.type == "Clock":
                v.type = "Boolean"
                rate = self._rate(v, v.where)
                self.flat.equations.append(
                    FlatEquation(x.var(v), self._ticks.now(rate), v.where, v.component, "clock")
                )
        for e in [*self.flat.equations, *self.flat.initial_equations]:
            self._replaced(e, None)
        for a in self.flat.assertions:
            a.condition, a.message = self._everywhere(a.condition), self._everywhere(a.message)
        for r in self.flat.reinits:
            r.active, r.value = self._everywhere(r.active), self._everywhere(r.value)
        for t in self.flat.terminations:
            t.active, t.message = self._everywhere(t.active), self._everywhere(t.message)
        for unit in self.flat.units:
            for given in unit.inputs:
                given.value = self._everywhere(given.value)

    def _rate(self, node: Node, where: Place | None) -> Rate:
        rate = self.rates.rate(node)
        if rate is None:
            raise StructureFault(
                f"nothing says when '{self.rates.names.get(node) or getattr(node, 'name', 'this')}' ticks.", where,
                "Give it an interval or a condition: Clock(0.1).",
            )  # fmt: skip
        return rate

    def _matched(self, partition: Partition) -> list[tuple[FlatEquation, Variable]]:
        """Each equation with the variable that it determines."""
        if partition.clock is not None:
            return [(e, e.left.variable) for e in partition.equations]
        unknowns = partition.unknowns
        number = {v: i for i, v in enumerate(unknowns)}
        rows = [
            sorted({number[v] for side in (e.left, e.right) for v in _present(side) if v in number})
            for e in partition.equations
        ]
        column_of, row_of = match(rows, len(unknowns))
        if -1 in column_of or -1 in row_of:
            names = ", ".join(unknowns[c].name for c, r in enumerate(row_of) if r < 0)
            surplus = "; ".join(
                f"'{e.as_written()}'"
                for e, c in zip(partition.equations, column_of, strict=True)
                if c < 0
            )
            raise StructureFault(
                f"what ticks with {described(self._rate(partition, partition.where))} has {len(rows)} equations for "
                f"{len(unknowns)} unknowns" + (f"; nothing determines {names}" if names else "")
                + (f"; one too many is {surplus}" if surplus else "") + ".", partition.where,
                "Every clocked variable needs one equation; continuous values enter by sample(...).",
            )  # fmt: skip
        return [(e, unknowns[c]) for e, c in zip(partition.equations, column_of, strict=True)]

    def _replaced(self, e: FlatEquation, rate: Rate | None) -> FlatEquation:
        e.left, e.right = self._everywhere(e.left, rate), self._everywhere(e.right, rate)
        return e

    def _everywhere(self, e: Expr, rate: Rate | None = None) -> Expr:
        """An expression without functions of clocks; ``rate`` is that of where it stands."""

        def of_argument(node: Expr) -> Rate:
            if not node.args:
                if rate is None:
                    raise StructureFault(
                        f"'{node.op}()' stands where nothing ticks.", None, f"Write {node.op}(v)."
                    )
                return rate
            u = node.args[0]
            if u.op == "var" and u.variable.type != "Clock":
                if u.variable not in self.of:
                    raise StructureFault(
                        f"'{u.variable.name}' in '{x.show(node)}' does not tick.", u.variable.where
                    )
                return self._rate(self.of[u.variable], u.variable.where)
            return self._rate(self.rates.node(u, None), None)

        def change(node: Expr) -> Expr | None:
            op = node.op
            if op == "sampled":
                return x.previous(node.args[0])
            if op == "previous":
                return x.previous(node.args[0])
            if op in CROSSINGS:
                return node.args[0]
            if op == "ticks":
                return self._ticks.tick(self._rate(self.rates.node(node.args[0], None), None))
            if op == "interval":
                return self._ticks.interval(of_argument(node))
            if op == "firstTick":
                return self._ticks.first(of_argument(node))
            return None

        return x.transform(e, change)


class Ticks:
    """The variables that say when clocks tick, one for each rate; ``prepared`` readies expressions of clocks."""

    def __init__(self, flat: FlatModel, prepared: Callable[[Expr, Rate], Expr]) -> None:
        self.flat = flat
        self._prepared = prepared
        self._same = Fingerprints()
        self._made: dict[tuple[object, ...], Expr] = {}
        #: Where it stands in the text what is being written out.
        self.where: Place | None = None

    def _key(self, rate: Rate) -> tuple[object, ...]:
        return self._same(rate.base), rate.factor, rate.shift

    def _once(self, what: str, rate: Rate, make: Callable[[Rate], Expr]) -> Expr:
        key = (what, *self._key(rate))
        if key not in self._made:
            self._made[key] = make(rate)
        return self._made[key]

    def _new(self, what: str, kind: str, start: float | bool) -> Variable:
        name = f"{what} {len(self._made) + 1}"
        variable = Variable(name, kind, "discrete", generated=True, where=self.where)
        variable.start, variable.fixed = x.const(start), True
        self.flat.variables.append(variable)
        return variable

    def _equal(self, variable: Variable, value: Expr) -> Expr:
        self.flat.equations.append(FlatEquation(x.var(variable), value, self.where, "", "clock"))
        return x.var(variable)

    def tick(self, rate: Rate) -> Expr:
        """Whether it ticks at this event."""
        return self._once("tick", rate, self._tick)

    def now(self, rate: Rate) -> Expr:
        """The Boolean that a clock of this rate is shown as."""
        return self._sample(rate) or self.tick(rate)

    @staticmethod
    def _sample(rate: Rate) -> Expr | None:
        period = rate.period
        if period is None:
            return None
        if rate.shift < 0:
            raise StructureFault(
                f"{described(rate)} would begin before the run.", None, "Shift it by less."
            )
        return Expr("sample", (rate.times(rate.shift) if rate.shift else x.ZERO, period))

    def _tick(self, rate: Rate) -> Expr:
        sample = self._sample(rate)
        if sample is not None:
            return x.fires(self._equal(self._new("tick", "Boolean", False), sample))
        if rate.factor != 1 or rate.shift:
            return self._counted(rate)
        tick = self._new("tick", "Boolean", False)
        if rate.base.value == "event":
            return x.fires(self._equal(tick, self._prepared(_held_before(rate.base.args[0]), rate)))
        following = self._new("next tick", "Real", 0.0)
        due = x.call(">=", TIME, x.previous(x.var(following)))
        fires = x.fires(self._equal(tick, x.conjunction(x.opposite(Expr("initial")), due)))
        self._made[("tick", *self._key(rate))] = fires
        value = x.add(TIME, self._prepared(rate.base.args[0], rate))
        self._equal(following, x.conditional(fires, value, x.previous(x.var(following))))
        later = x.disjunction(x.opposite(fires), x.call(">", x.var(following), TIME))
        message = f"the interval {x.show(rate.base.args[0])} of a clock is not positive"
        self.flat.assertions.append(
            Assertion(later, x.const(message), "error", None, at_events=True)
        )
        return fires

    def _counted(self, rate: Rate) -> Expr:
        """Every so many ticks of the base, after some first ones."""
        if rate.factor.denominator != 1 or rate.shift.denominator != 1 or rate.shift < 0:
            raise Unsupported(
                f"{described(rate)} would tick between ticks that nobody knows in advance.", None,
                "Only clocks with a fixed interval can tick more often than they do, or earlier.",
            )  # fmt: skip
        base = self.tick(Rate(rate.base))
        left = self._new("ticks left", "Integer", int(rate.shift))
        before = x.previous(x.var(left))
        is_due = x.call("==", before, x.const(0))
        after = x.conditional(is_due, x.const(int(rate.factor) - 1), x.subtract(before, x.const(1)))
        self._equal(left, x.conditional(base, after, before))
        return x.conjunction(base, is_due)

    def first(self, rate: Rate) -> Expr:
        """Whether it ticks for the first time."""

        def make(rate: Rate) -> Expr:
            begun = self._new("begun", "Boolean", False)
            before = x.previous(x.var(begun))
            self._equal(begun, x.conditional(self.tick(rate), x.TRUE, before))
            return x.opposite(before)

        return self._once("first", rate, make)

    def interval(self, rate: Rate) -> Expr:
        """The time in s since the last tick; at the first tick what the clock says of that."""
        return rate.period or self._once("interval", rate, self._interval)

    def _interval(self, rate: Rate) -> Expr:
        last = self._new("last tick", "Real", 0.0)
        before = x.previous(x.var(last))
        self._equal(last, x.conditional(self.tick(rate), TIME, before))
        base = rate.base
        begins = (
            base.args[1] if base.value == "event" else _before(self._prepared(base.args[0], rate))
        )
        return x.conditional(self.first(rate), begins, x.subtract(TIME, before))


def _before(e: Expr) -> Expr:
    """An expression of the values before the event."""
    return x.transform(e, lambda node: x.previous(node) if node.op == "var" else None)


def _held_before(e: Expr) -> Expr:
    """A condition with what is held as it was before the event: what ticks with it does not undo it."""
    return x.transform(e, lambda node: Expr("previous", node.args) if node.op == "hold" else None)


def _is_alias(e: FlatEquation) -> bool:
    return e.left.op == "var" and e.right.op == "var"


def _present(e: Expr) -> list[Variable]:
    """The variables whose value at this tick counts."""
    variables: dict[Variable, None] = {}
    stack = [e]
    while stack:
        node = stack.pop()
        if node.op == "var":
            variables[node.variable] = None
        elif node.op not in ("previous", "pre", "ticks", "interval", "firstTick", "sampled"):
            stack.extend(node.args)
    return list(variables)


def _at_ticks(e: FlatEquation, v: Variable, tick: Expr) -> None:
    """Turn an equation for ``v`` into one that holds at ticks, between which ``v`` stays."""
    before = x.previous(x.var(v))
    for one, other in ((e.left, e.right), (e.right, e.left)):
        if one.op == "var" and one.variable is v and v not in _present(other):
            e.left, e.right = x.var(v), x.conditional(tick, _literally(other), before)
            return
    if v.type != "Real":
        raise StructureFault(
            f"'{e.as_written()}' gives '{v.name}' only by being solved.",
            e.where,
            f"Write {v.name} = ... instead.",
        )
    difference = _literally(x.subtract(e.left, e.right))
    e.left, e.right = x.ZERO, x.conditional(tick, difference, x.subtract(x.var(v), before))


def _literally(e: Expr) -> Expr:
    """An expression whose relations are looked at when it ticks, and never else."""
    return Expr("noevent", (e,)) if e.traits & (RELATION | ROUNDING) else e
