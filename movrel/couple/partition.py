"""A flat model cut into units along the signals between its parts.

Parts that share a physical connection or an equation cannot be cut apart: they are one unit. What remains between
units are signals, each from one output to any number of inputs.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field, replace

from movrel.errors import Place, StructureFault, UnitFault
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation, FlatModel, FlatUnit
from movrel.units import unit

_SEGMENT = re.compile(r"(?:'(?:[^'\\]|\\.)*'|[^.\['])+(?:\[[^\]]*\])?")
#: Units whose names are joined in the name of one that they make up.
NAMED = 3


@dataclass(frozen=True, slots=True)
class Connection:
    """A signal from an output to an input: ``input = factor * output + offset``."""

    source: Variable
    target: Variable
    where: Place | None
    factor: float = 1.0
    offset: float = 0.0

    @property
    def converted(self) -> bool:
        """Whether its numbers change on the way, because both ends have units of their own."""
        return self.factor != 1.0 or self.offset != 0.0

    @property
    def name(self) -> str:
        return f"{self.source.name} → {self.target.name}"

    @property
    def is_own(self) -> bool:
        """Whether it is an input of the rig itself that an equation of the rig uses, so that nothing is drawn for it."""
        return self.source is self.target


@dataclass(eq=False, slots=True)
class UnitPart:
    """One unit of a rig: equations of our own (``flat``), or foreign code (``foreign``, number ``number`` of the model)."""

    name: str
    variables: list[Variable] = field(default_factory=list)
    inputs: list[Variable] = field(default_factory=list)
    outputs: list[Variable] = field(default_factory=list)
    flat: FlatModel | None = None
    foreign: FlatUnit | None = None
    number: int = -1
    #: The parts of the model that it is made of.
    keys: tuple[str, ...] = ()

    def ports(self, direction: str) -> list[Variable]:
        """Its inputs or outputs as they are declared, connected or not."""
        return [v for v in self.variables if v.direction == direction and v.component in self.keys]


@dataclass(slots=True)
class Partition:
    """The units of a rig and what joins them."""

    flat: FlatModel
    parts: list[UnitPart]
    connections: list[Connection]
    #: Inputs that nothing feeds; they stay at their start values.
    unfed: list[Variable]
    #: Ports of the rig itself and of systems within it: the signal that passes through each.
    through: dict[Variable, Connection]
    #: Inputs of the rig itself, which stay at their start values while it runs, and its outputs.
    outer: list[Variable]
    results: list[Variable]


def partition(flat: FlatModel) -> Partition:
    """Cut a flat model, which must be one's own: variables become inputs.

    Raises :class:`StructureFault` for two sources of one input, signals of different quantities, and foreign units that
    are joined with others by more than signals.
    """
    return _Cut(flat).partition()


def segments(name: str) -> list[str]:
    """The parts of a dotted name, each with its index."""
    return [m.group() for m in _SEGMENT.finditer(name)]


def variables_of(equations: Iterable[FlatEquation]) -> Iterable[Variable]:
    for e in equations:
        yield from x.variables(e.left)
        yield from x.variables(e.right)


_Node = Variable | str


class _Cut:
    def __init__(self, flat: FlatModel) -> None:
        self.flat = flat
        self.foreign = {u.component: (k, u) for k, u in enumerate(flat.units)}
        self.containers = {""}
        for component in self.foreign:
            parts = segments(component)
            self.containers |= {".".join(parts[:k]) for k in range(1, len(parts))}
        self.parent: dict[_Node, _Node] = {}
        self.keys: dict[str, str | None] = {}
        running = [v for v in flat.variables if v.variability in ("continuous", "discrete")]
        self.running = set(running)
        self.own_inputs = [v for v in running if v.causality == "input"]
        self.own_outputs = [v for v in running if v.causality == "output"]

    def key(self, v: Variable) -> str | None:
        """The part that a variable belongs to; None for one that a system has between its parts."""
        if v.name not in self.keys:
            self.keys[v.name] = self._key(v.name)
        return self.keys[v.name]

    def _key(self, name: str) -> str | None:
        parts = segments(name)
        for k in range(len(parts) - 1, 0, -1):
            path = ".".join(parts[:k])
            if path in self.containers:
                continue
            if ".".join(parts[: k - 1]) in self.containers:
                return path
        return None

    def node(self, v: Variable) -> _Node:
        return self.key(v) or v

    def root(self, n: _Node) -> _Node:
        while self.parent.setdefault(n, n) is not n and self.parent[n] != n:
            self.parent[n] = self.parent[self.parent[n]]
            n = self.parent[n]
        return n

    def join(self, nodes: Iterable[_Node]) -> None:
        roots = [self.root(n) for n in nodes]
        for other in roots[1:]:
            self.parent[self.root(other)] = self.root(roots[0])

    # --- what belongs together ---

    def partition(self) -> Partition:
        links: list[FlatEquation] = []
        inside: list[FlatEquation] = []
        for e in self.flat.equations:
            if e.kind == "unit":
                continue
            (links if self._is_link(e) else inside).append(e)
        for e in [*inside, *self.flat.initial_equations]:
            if e.kind != "unit":
                self._join_equation(e)
        for a in self.flat.assertions:
            self._join_expressions((a.condition, a.message))
        for r in self.flat.reinits:
            self._join_expressions((r.active, r.state, r.value))
        for t in self.flat.terminations:
            self._join_expressions((t.active, t.message))
        sets = self._sets(links)
        signals: list[tuple[list[Variable], list[FlatEquation]]] = []
        for members, equations in sets:
            if any(v.direction for v in members):
                signals.append((members, equations))
            else:
                self.join(self.node(v) for v in members)
                inside += equations
        defined = {self.root(self.node(v)) for v in variables_of(inside) if v in self.running}
        return self._assembled(inside, signals, defined)

    def _is_link(self, e: FlatEquation) -> bool:
        return (
            e.kind == "connection"
            and e.component in self.containers
            and e.left.op == e.right.op == "var"
        )

    def _join_equation(self, e: FlatEquation) -> None:
        self._join_expressions((e.left, e.right), e.where)

    def _join_expressions(self, expressions: tuple[Expr, ...], where: Place | None = None) -> None:
        nodes: dict[_Node, None] = {}
        for expression in expressions:
            for v in x.variables(expression):
                if v in self.running:
                    nodes[self.node(v)] = None
        foreign = [n for n in nodes if n in self.foreign]
        if foreign and len(nodes) > 1:
            raise StructureFault(
                f"'{foreign[0]}' is a unit of others, and an equation of the rig uses its variables.",
                where,
                "Put the equation into a part with inputs and outputs.",
            )
        self.join(nodes)

    def _sets(self, links: list[FlatEquation]) -> list[tuple[list[Variable], list[FlatEquation]]]:
        """The variables that connections make equal, with these connections."""
        parent: dict[Variable, Variable] = {}

        def root(v: Variable) -> Variable:
            while parent.setdefault(v, v) is not v:
                v = parent[v]
            return v

        for e in links:
            parent[root(e.left.variable)] = root(e.right.variable)
        members: dict[Variable, dict[Variable, None]] = {}
        equations: dict[Variable, list[FlatEquation]] = {}
        for e in links:
            own = root(e.left.variable)
            members.setdefault(own, {}).update({e.right.variable: None, e.left.variable: None})
            equations.setdefault(own, []).append(e)
        return [(list(members[k]), equations[k]) for k in members]

    # --- units, and signals between them ---

    def _assembled(
        self,
        inside: list[FlatEquation],
        signals: list[tuple[list[Variable], list[FlatEquation]]],
        defined: set[_Node],
    ) -> Partition:
        parts = self._parts(defined)
        owner = {v: part for part in parts for v in part.variables}
        connections: list[Connection] = []
        through: dict[Variable, Connection] = {}
        unfed: list[Variable] = []
        for members, equations in signals:
            source = self._source(members, equations, owner)
            where = equations[0].where
            for v in members:
                if v is source:
                    continue
                if v not in owner:
                    if source is not None:
                        through[v] = self._connection(source, v, where)
                elif source is None:
                    unfed.append(v)
                elif owner[v] is owner.get(source) and owner[v].foreign is None:
                    c = self._connection(source, v, where)
                    right = x.add(x.multiply(x.const(c.factor), x.var(source)), x.const(c.offset))
                    inside.append(FlatEquation(x.var(v), right, where, "", "connection"))
                else:
                    connections.append(self._connection(source, v, where))
        # What equations of the rig use of its inputs arrives like any other signal.
        connections += [Connection(v, v, v.where) for v in self.own_inputs if v in owner]
        wired = {v for members, _ in signals for v in members}
        unfed += self._open_inputs(parts, wired, inside)
        for part in parts:
            own = set(part.variables)
            given = own.difference(self.own_inputs)
            part.inputs = [c.target for c in connections if c.target in own]
            part.inputs += [v for v in unfed if v in own]
            part.outputs = list(dict.fromkeys(c.source for c in connections if c.source in given))
            part.outputs += [
                c.source
                for c in through.values()
                if c.source in given and c.source not in part.outputs
            ]
            if part.foreign is None:
                part.flat = self._flat_of(part, inside)
        return Partition(
            self.flat, parts, connections, unfed, through, self.own_inputs, self.own_outputs
        )

    def _parts(self, defined: set[_Node]) -> list[UnitPart]:
        groups: dict[_Node, UnitPart] = {}
        keys: dict[_Node, dict[str, None]] = {}
        for v in self.flat.variables:
            if v not in self.running:
                continue
            node = self.node(v)
            own = self.root(node)
            if not isinstance(node, str) and own not in defined:
                continue  # a port of the rig or of a system: signals pass through it
            part = groups.setdefault(own, UnitPart(""))
            part.variables.append(v)
            if isinstance(node, str):
                keys.setdefault(own, {})[node] = None
        for own, part in groups.items():
            part.keys = tuple(keys.get(own, {}))
            names = list(part.keys) or [self.flat.name.rpartition(".")[2]]
            part.name = " + ".join(names[:NAMED]) + (
                f" + {len(names) - NAMED} more" if len(names) > NAMED else ""
            )
            if names[0] in self.foreign:
                part.number, part.foreign = self.foreign[names[0]]
        return list(groups.values())

    def _source(
        self,
        members: list[Variable],
        equations: list[FlatEquation],
        owner: dict[Variable, UnitPart],
    ) -> Variable | None:
        """The output among connected variables. Raises :class:`StructureFault` for two of them."""
        sources = [
            v for v in members if (v in owner and v.direction != "input") or v in self.own_inputs
        ]
        if len(sources) > 1:
            raise StructureFault(
                f"'{sources[0].name}' and '{sources[1].name}' both feed the same input.",
                equations[0].where,
                "A signal has one source: take one of the wires away.",
            )
        return sources[0] if sources else None

    def _connection(self, source: Variable, target: Variable, where: Place | None) -> Connection:
        """A signal with the conversion between the units of its ends. Raises :class:`StructureFault`."""
        plain = Connection(source, target, where)
        if not source.unit or not target.unit or source.unit == target.unit:
            return plain
        try:
            a, b = unit(source.unit), unit(target.unit)
        except UnitFault:
            return plain
        if a.dimension != b.dimension:
            raise StructureFault(
                f"'{source.name}' is in {source.unit}, and '{target.name}' expects {target.unit}: "
                "these are different quantities.",
                where,
                "Wire another output, or put a part between them.",
            )
        factor, offset = a.factor / b.factor, (a.offset - b.offset) / b.factor
        return replace(plain, factor=factor, offset=offset)

    def _open_inputs(
        self, parts: list[UnitPart], wired: set[Variable], inside: list[FlatEquation]
    ) -> list[Variable]:
        """The inputs of parts that neither a wire nor a modifier nor an equation of the rig gives a value."""
        bound = {e.left.value for e in inside if e.kind == "binding" and e.left.op == "var"}
        own = [e for e in inside if e.kind == "equation" and e.component in self.containers]
        bound |= {side.value for e in own for side in (e.left, e.right) if side.op == "var"}
        return [
            v
            for part in parts
            for v in part.variables
            if v.direction == "input"
            and v.component == self.key(v)
            and v not in wired
            and v not in bound
        ]

    # --- equations of our own ---

    def _flat_of(self, part: UnitPart, inside: list[FlatEquation]) -> FlatModel:
        own, flat = set(part.variables), self.flat
        keys = {k for v in part.variables if (k := self.key(v)) is not None}

        def belongs(expressions: Iterable[Expr], component: str) -> bool:
            running = [v for e in expressions for v in x.variables(e) if v in self.running]
            if running:
                return running[0] in own
            return any(component == k or component.startswith(f"{k}.") for k in keys)

        made = FlatModel(f"{flat.name} {part.name}", experiment=flat.experiment)
        made.equations = [e for e in inside if belongs((e.left, e.right), e.component)]
        made.initial_equations = [
            e for e in flat.initial_equations if belongs((e.left, e.right), e.component)
        ]
        made.assertions = [
            a for a in flat.assertions if belongs((a.condition, a.message), a.component)
        ]
        made.reinits = [r for r in flat.reinits if belongs((r.state,), r.component)]
        made.terminations = [t for t in flat.terminations if belongs((t.active, t.message), "")]
        for v in part.inputs:
            v.causality = "input"
        for v in own:
            if v.causality == "output" or (v.causality == "input" and v not in part.inputs):
                v.causality = ""
        made.variables = [*self._parameters_of(part, made, keys), *part.variables]
        return made

    def _parameters_of(self, part: UnitPart, made: FlatModel, keys: set[str]) -> list[Variable]:
        """The parameters of a unit: those of its parts, and those that anything of it refers to."""
        wanted: dict[Variable, None] = {}
        waiting: list[Variable] = []

        def note(e: Expr | None) -> None:
            for v in x.variables(e) if e is not None else ():
                if v not in self.running and v not in wanted:
                    wanted[v] = None
                    waiting.append(v)

        for equation in [*made.equations, *made.initial_equations]:
            note(equation.left)
            note(equation.right)
        for a in made.assertions:
            note(a.condition)
            note(a.message)
        for r in made.reinits:
            note(r.active)
            note(r.value)
        for t in made.terminations:
            note(t.active)
            note(t.message)
        for v in self.flat.variables:
            if v not in self.running and self.key(v) in keys:
                note(x.var(v))
        waiting += part.variables
        while waiting:
            v = waiting.pop()
            for e in (v.start, v.minimum, v.maximum, v.nominal, v.binding):
                note(e)
        return [v for v in self.flat.variables if v in wanted]
