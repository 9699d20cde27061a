"""Which variables tick together, and with which clock (specification 16.7).

Variables that plain equations connect, but for conversions of clocks, tick together where anything among them needs a
clock. What a clocked ``when`` or a state machine sets has the clock that is written there; plain equations may
read it without ticking themselves.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from movrel.errors import Place, StructureFault, Unsupported
from movrel.model import expression as x
from movrel.model.clock_calls import CONVERSIONS, CROSSINGS, is_clock
from movrel.model.clock_rates import Rates
from movrel.model.clocked import Writer
from movrel.model.environment import Model
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel
from movrel.model.partition import Partition
from movrel.model.values import kind_of

#: Functions of the clock of an argument, or of the clock with which the equation ticks.
_ABOUT = {"interval", "firstTick"}
_FIXED = ("parameter", "constant")


@dataclass(slots=True)
class _Look:
    """What an expression reads: variables of its own clock, and calls of the functions of clocks."""

    variables: dict[Variable, None] = field(default_factory=dict)
    calls: list[Expr] = field(default_factory=list)

    def at(self, e: Expr) -> None:
        seen: set[Expr] = set()
        stack = [e]
        while stack:
            node = stack.pop()
            if node in seen:
                continue
            seen.add(node)
            if node.op == "var":
                if node.value is not x.TIME_VARIABLE and node.value.variability not in _FIXED:
                    self.variables[node.value] = None
            elif node.op in CROSSINGS or node.op in _ABOUT or node.op == "ticks":
                self.calls.append(node)
            else:
                if node.op == "previous":
                    self.calls.append(node)
                stack.extend(node.args)


class Clocks:
    """Collects what ticks while a model is flattened, and writes it out at the end."""

    def __init__(self, flat: FlatModel, model: Model) -> None:
        self.flat = flat
        self.model = model
        self.rates = Rates(model)
        self._whens: list[Partition] = []
        #: Equations of clocked when clauses that do not simply set variables.
        self._general: list[tuple[Expr, list[FlatEquation], Place]] = []
        self._machines: dict[Variable, Expr] = {}
        self._number = 0

    def when(self, clock: Expr, equations: list[FlatEquation], where: Place) -> None:
        """The equations of a clocked when clause."""
        self._whens.append(Partition(equations, where, clock))

    def together(self, clock: Expr, equations: list[FlatEquation], where: Place) -> None:
        """Equations of a clocked when clause from which variables have to be worked out."""
        self.flat.equations.extend(equations)
        self._general.append((clock, equations, where))

    def machine(self, path: str, default: Expr, where: Place) -> Expr:
        """The clock of the state machines of a component: that of the variables they read, or the default."""
        self.model.clocked = True
        clock = Variable(
            f"{path or 'state machine'} clock",
            "Clock",
            "discrete",
            component=path,
            where=where,
            generated=True,
        )
        self._machines[clock] = default
        self.rates.names[clock] = f"the state machine in {path}" if path else "the state machine"
        return x.var(clock)

    def finish(self) -> None:
        """Turn everything that ticks into discrete equations."""
        if not self.model.clocked:
            return
        self._name_arguments()
        definitions, plain, written = self._sorted()
        partitions, of = self._partitions(plain, written)
        self._relate(partitions, of, definitions)
        self._give_rates(partitions)
        clocked = {e for p in partitions for e in p.equations}
        self.flat.equations = [e for e in plain if e not in clocked]
        writer = Writer(self.flat, self.rates, of)
        for partition in partitions:
            writer.write(partition)
        writer.finish()

    # --- preparation ---

    def _name_arguments(self) -> None:
        """Give what is converted a variable of its own, where it is an expression."""
        done: dict[Expr, Expr] = {}
        added: list[FlatEquation] = []

        def change(e: Expr) -> Expr | None:
            if e.op not in CROSSINGS or is_clock(e):
                return None
            u = e.args[0]
            given = u.op == "var" and (
                u.variable.causality == "input" or u.variable is x.TIME_VARIABLE
            )
            if u.op == "var" and not given:
                return None
            if u.op == "const" or (u.op == "var" and u.variable.variability in _FIXED):
                return None
            self._number += 1
            kind = {"number": "Real"}.get(kind_of(u), kind_of(u))
            aux = Variable(
                f"argument {self._number} of {'sample' if e.op == 'sampled' else e.op}", kind,
                "continuous" if kind == "Real" else "discrete", component=at.component, where=at.where, generated=True,
            )  # fmt: skip
            self.flat.variables.append(aux)
            added.append(FlatEquation(x.var(aux), u, at.where, at.component))
            return Expr(e.op, (x.var(aux), *e.args[1:]), e.value)

        for at in [*self.flat.equations, *(e for w in self._whens for e in w.equations)]:
            before = at.left, at.right
            at.left = x.transform(at.left, change, done)
            at.right = x.transform(at.right, change, done)
            if (at.left, at.right) != before:
                at.original = at.original or before
        self.flat.equations.extend(added)

    def _sorted(
        self,
    ) -> tuple[list[tuple[Expr, FlatEquation]], list[FlatEquation], list[FlatEquation]]:
        """What defines clocks, plain equations, and equations that hold their tick already."""
        definitions: list[tuple[Expr, FlatEquation]] = []
        plain: list[FlatEquation] = []
        written: list[FlatEquation] = []
        for e in self.flat.equations:
            if is_clock(e.left) or is_clock(e.right):
                definitions.append((e.left, e))
            elif any(node.op == "ticks" for side in (e.left, e.right) for node in x.walk(side)):
                written.append(e)
            else:
                plain.append(e)
        return definitions, plain, written

    # --- partitions ---

    def _partitions(
        self, plain: list[FlatEquation], written: list[FlatEquation]
    ) -> tuple[list[Partition], dict[Variable, Partition]]:
        """Everything that ticks, and what each variable that does ticks with."""
        partitions = list(self._whens)
        for e in written:
            clock = next(call for call in _looked(e).calls if call.op == "ticks").args[0]
            partitions.append(Partition([e], e.where, clock, written=True))
        of = {
            e.left.variable: partition
            for partition in partitions
            for e in partition.equations
            if e.left.op == "var"
        }
        looks = [_looked(e) for e in plain]
        inside = [_looked(e) for partition in partitions for e in partition.equations]
        groups = _Groups(of)
        for look in looks:
            groups.join(look)
        clocked = {
            groups.root(v): Partition([])
            for v in [
                *_readers(plain, looks, of),
                *_converted([*looks, *inside]),
                *(
                    v
                    for _, general, _ in self._general
                    for e in general
                    for v in _looked(e).variables
                ),
            ]
            if v not in of
        }
        for v in groups.members():
            if groups.root(v) in clocked:
                of[v] = clocked[groups.root(v)]
                of[v].variables.append(v)
        ticking = set(clocked.values())
        for e, look in zip(plain, looks, strict=True):
            member = next((v for v in look.variables if of.get(v) in ticking), None)
            if member is not None:
                partition = of[member]
                partition.equations.append(e)
                partition.where = partition.where or e.where
                self._check_plain(e, look)
        return [*partitions, *clocked.values()], of

    @staticmethod
    def _check_plain(e: FlatEquation, look: _Look) -> None:
        """Refuse what does not tick in the midst of what does."""
        if any(call.op == "hold" for call in look.calls):
            generated = e.left.op == "var" and e.left.variable.generated
            text = x.show(e.right) if generated else e.as_written()
            raise StructureFault(
                f"'{text}' ticks, but 'hold' gives a value for all times.", e.where,
                "Remove hold, or take it as sample(hold(...)).",
            )  # fmt: skip
        if any(n.op == "fires" for side in (e.left, e.right) for n in x.walk(side)):
            raise StructureFault(
                f"'{x.show(e.left)}' changes at events, but is connected with what ticks.", e.where, "Take it as sample(...).",
            )  # fmt: skip

    # --- clocks ---

    def _relate(
        self,
        partitions: list[Partition],
        of: dict[Variable, Partition],
        definitions: list[tuple[Expr, FlatEquation]],
    ) -> None:
        rates = self.rates
        for v, partition in of.items():
            if not v.generated or partition not in rates.names:
                rates.names[partition] = v.name
        for partition in partitions:
            if partition.clock is not None:
                rates.same(partition, rates.node(partition.clock, partition.where), partition.where)
            for e in partition.equations:
                look = _looked(e)
                for call in look.calls:
                    if call.op == "sampled" and len(call.args) == 2:
                        rates.same(partition, rates.node(call.args[1], e.where), e.where)
                    elif call.op in CONVERSIONS:
                        rates.convert(partition, self._source(call, of, e), call, e.where)
        for clock, general, where in self._general:
            for v in (v for e in general for v in _looked(e).variables if v in of):
                rates.same(of[v], rates.node(clock, where), where)
        for left, e in definitions:
            clocks = [side for side in (left, e.right) if is_clock(side)]
            if len(clocks) < 2:
                raise StructureFault(
                    f"'{e.as_written()}' sets a clock equal to something else.",
                    e.where,
                    "Write Clock(...).",
                )
            rates.same(rates.node(clocks[0], e.where), rates.node(clocks[1], e.where), e.where)
        rates.solve()
        # What is read directly has the clock of its reader, where nothing else says which.
        for partition in partitions:
            for e in partition.equations:
                for v in _looked(e).variables:
                    other = of.get(v)
                    if other is None or other is partition:
                        continue
                    read, own = rates.rate(other), rates.rate(partition)
                    loose = partition.clock is not None and other.clock is not None
                    if read is None or own is None or not loose:
                        rates.same(partition, other, e.where)

    def _source(self, call: Expr, of: dict[Variable, Partition], e: FlatEquation) -> Partition:
        """What ticks that the argument of a conversion belongs to."""
        u = call.args[0]
        partition = of.get(u.variable) if u.op == "var" else None
        if partition is None:
            raise StructureFault(
                f"'{x.show(u)}' in '{x.show(call)}' does not tick.", e.where, "Take it as sample(...), or convert a clock.",
            )  # fmt: skip
        return partition

    def _give_rates(self, partitions: list[Partition]) -> None:
        rates = self.rates
        rates.solve()
        for clock, default in self._machines.items():
            if rates.rate(clock) is None:
                rates.same(clock, rates.node(default, clock.where), clock.where)
                rates.solve()
        for partition in partitions:
            name = rates.names.get(partition, "this")
            if rates.rate(partition) is None:
                raise StructureFault(
                    f"nothing says when '{name}' ticks.", partition.where,
                    "Give a clock: sample(u, Clock(0.1)), or 'when Clock(0.1) then ... end when'.",
                )  # fmt: skip
            partition.method = rates.method(partition)
            integrates = any(
                n.op == "der"
                for e in partition.equations
                for s in (e.left, e.right)
                for n in x.walk(s)
            )
            if integrates and not partition.method:
                raise Unsupported(
                    f"a derivative stands among equations that tick, as '{name}' does.", partition.where,
                    "Separate them by sample(...) and hold(...), or give the clock a method: "
                    'Clock(Clock(0.01), "ExplicitEuler").',
                )  # fmt: skip


class _Groups:
    """Variables that plain equations connect; those that a clocked when or a state machine sets connect nothing."""

    def __init__(self, apart: dict[Variable, Partition]) -> None:
        self._apart = set(apart)
        self._parent: dict[Variable, Variable] = {}

    def root(self, v: Variable) -> Variable:
        parent = self._parent
        while parent.setdefault(v, v) is not v:
            parent[v] = parent[parent[v]]
            v = parent[v]
        return v

    def join(self, look: _Look) -> None:
        own = [v for v in look.variables if v not in self._apart]
        for v in own[1:]:
            self._parent[self.root(v)] = self.root(own[0])

    def members(self) -> list[Variable]:
        return list(self._parent)


def _readers(
    plain: list[FlatEquation], looks: list[_Look], apart: dict[Variable, Partition]
) -> list[Variable]:
    """A variable of every plain equation that can only be meant to tick."""
    readers: list[Variable] = []
    for e, look in zip(plain, looks, strict=True):
        if all(call.op in ("hold", "ticks") for call in look.calls):
            continue
        own = next((v for v in look.variables if v not in apart), None)
        if own is None:
            raise StructureFault(
                f"'{e.as_written()}' ticks, but sets nothing.", e.where, "Give it an unknown."
            )
        readers.append(own)
    return readers


def _converted(looks: list[_Look]) -> list[Variable]:
    """The variables that are held, converted or asked about: they tick."""
    return [
        v
        for look in looks
        for call in look.calls
        if call.op not in ("sampled", "ticks") and call.args and not is_clock(call.args[0])
        for v in x.variables(call.args[0])
        if v.variability not in _FIXED
    ]


def _looked(e: FlatEquation) -> _Look:
    look = _Look()
    look.at(e.left)
    look.at(e.right)
    return look
