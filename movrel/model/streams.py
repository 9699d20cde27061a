"""Stream connectors: what flows into a port carries the properties of its sources (chapter 15).

The equations are those of clause 15.2, with its regularisation near zero flow.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any, Protocol

from movrel.errors import Place, TypeFault
from movrel.model import expression as x
from movrel.model.expression import Expr, Variable
from movrel.model.flat import FlatEquation

#: Flow below which the mixing is smoothed: as a share of its nominal value, and without one.
SMALL_SHARE, SMALL_FLOW = 1e-5, 1e-8

Node = tuple[Variable, bool]


class Connector(Protocol):
    """What streams ask of the component that declares them."""

    path: str

    @property
    def declared(self) -> Mapping[str, Any]: ...

    def member(self, name: str) -> Any: ...


@dataclass(slots=True)
class Streams:
    """The stream variables of a model and which of them are connected."""

    owners: dict[Variable, Connector] = field(default_factory=dict)
    asked: dict[Variable, Variable] = field(default_factory=dict)  # what inStream(v) stands for
    parent: dict[Node, Node] = field(default_factory=dict)
    order: list[Node] = field(default_factory=list)
    where: dict[Node, tuple[Place, str]] = field(default_factory=dict)
    #: Flows that are zero all the time, as those of gauges.
    _closed: set[Variable] = field(default_factory=set)

    def declare(self, variable: Variable, owner: Connector) -> None:
        self.owners[variable] = owner

    def flow_of(self, variable: Variable, where: Place | None) -> Variable:
        """The flow variable of the connector to which a stream variable belongs."""
        owner = self.owners.get(variable)
        if owner is None:
            raise TypeFault(f"'{variable.name}' is not a stream variable.", where)
        flows = [n for n, d in owner.declared.items() if "flow" in d.node.prefixes]
        if len(flows) != 1:
            raise TypeFault(
                f"the connector '{owner.path}' has {len(flows)} flow variables; with stream variables it needs one.",
                where,
            )
        return owner.member(flows[0])

    def in_stream(self, variable: Variable, where: Place | None) -> Expr:
        """The value that flows into the port, if it does: ``inStream(v)``."""
        self.flow_of(variable, where)
        inward = self.asked.get(variable)
        if inward is None:
            inward = Variable(
                f"inStream({variable.name})", "Real", unit=variable.unit, where=variable.where
            )
            inward.component, inward.generated = variable.component, True
            inward.start, inward.nominal = variable.start, variable.nominal
            self.asked[variable] = inward
        return x.var(inward)

    def connect(self, a: Node, b: Node, where: Place, component: str) -> None:
        """Put two stream variables into one set; the flag of a node says that it is seen from outside its component."""
        for node in (a, b):
            self._node(node)
            self.where.setdefault(node, (where, component))
        self.parent[self._find(a)] = self._find(b)

    def _node(self, node: Node) -> None:
        if node not in self.parent:
            self.parent[node] = node
            self.order.append(node)

    def _find(self, node: Node) -> Node:
        while self.parent[node] != node:
            self.parent[node] = self.parent[self.parent[node]]
            node = self.parent[node]
        return node

    def equations(self, others: list[FlatEquation]) -> tuple[list[Variable], list[FlatEquation]]:
        """The variables for ``inStream`` and all equations of the connected sets; ``others`` are those of the model."""
        self._closed = {
            e.left.variable for e in others if e.left.op == "var" and e.right.is_const(0)
        }
        equations: list[FlatEquation] = []
        sets: dict[Node, list[Node]] = {}
        for node in self.order:
            sets.setdefault(self._find(node), []).append(node)
        # Outside connectors ask for what flows in from further outside, which may be new.
        for members in sets.values():
            for member in members:
                if member[1]:
                    self._flows_in(member)
                    equations.append(self._outside_equation(member, members))
        inside_set = {
            member: members for members in sets.values() for member in members if not member[1]
        }
        done: set[Variable] = set()
        while len(done) < len(self.asked):
            for key in [k for k in self.asked if k not in done]:
                done.add(key)
                node = (key, False)
                equations.append(self._in_stream_equation(key, node, inside_set.get(node, [node])))
        return list(self.asked.values()), equations

    def _variable(self, node: Node) -> Variable:
        return node[0]

    def _flows_in(self, node: Node) -> Expr:
        """inStream of an outside connector, as its component's environment sees it."""
        return self.in_stream(self._variable(node), None)

    def _source(self, node: Node) -> Expr:
        """What a member of a set gives to the mixing."""
        return self._flows_in(node) if node[1] else x.var(self._variable(node))

    def _out_flow(self, node: Node) -> Expr:
        """The flow from a member into the mixing point; positive when it gives."""
        flow = x.var(self.flow_of(self._variable(node), None))
        return flow if node[1] else x.negate(flow)

    def _gives(self, node: Node) -> bool:
        """Whether anything can flow from a member into the mixing point (15.2)."""
        flow = self.flow_of(self._variable(node), None)
        inwards = flow.minimum if not node[1] else None
        never = inwards is not None and inwards.op == "const" and float(inwards.value) >= 0
        return not never and flow not in self._closed

    def _mixed(self, others: list[Node]) -> Expr:
        giving = [node for node in others if self._gives(node)]
        if len(giving) == 1:
            others = giving
        if len(others) == 1:
            return self._source(others[0])
        zero = x.ZERO
        gives = [x.call("max", self._out_flow(node), zero) for node in others]
        total = x.total(gives)
        nominal = self.flow_of(self._variable(others[0]), None).nominal
        small = (
            x.const(SMALL_FLOW) if nominal is None else x.multiply(x.const(SMALL_SHARE), nominal)
        )
        share = x.divide(total, small)
        ramp = x.multiply(
            x.multiply(share, share), x.subtract(x.const(3.0), x.multiply(x.const(2.0), share))
        )
        weight = Expr(
            "noevent",
            (
                x.conditional(
                    x.call(">", total, small),
                    x.ONE,
                    x.conditional(x.call(">", total, zero), ramp, zero),
                ),
            ),
        )
        mass = [
            x.add(x.multiply(weight, give), x.multiply(x.subtract(x.ONE, weight), small))
            for give in gives
        ]
        top = x.total(
            [x.multiply(m, self._source(node)) for m, node in zip(mass, others, strict=True)]
        )
        return x.divide(top, x.total(mass))

    def _outside_equation(self, node: Node, members: list[Node]) -> FlatEquation:
        variable = self._variable(node)
        where, component = self.where[node]
        others = [m for m in members if m != node]
        value = self._mixed(others) if others else x.var(variable)
        return FlatEquation(x.var(variable), value, where, component, "stream connection")

    def _in_stream_equation(
        self, variable: Variable, node: Node, members: list[Node]
    ) -> FlatEquation:
        where, component = self.where.get(node, (variable.where, variable.component))
        others = [m for m in members if m != node]
        value = self._mixed(others) if others else x.var(variable)
        return FlatEquation(
            x.var(self.asked[variable]), value, where, component, "stream connection"
        )
