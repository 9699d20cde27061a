"""Connections to equations: equal potentials, flows that sum to zero (specification 9.2)."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from movrel.errors import Place, TypeFault
from movrel.language import syntax as s
from movrel.model import expression as x
from movrel.model.environment import Scope
from movrel.model.expandable import grow, open_end
from movrel.model.expression import Variable
from movrel.model.flat import FlatEquation
from movrel.model.instance import Instance
from movrel.model.lookup import resolve
from movrel.model.streams import Streams
from movrel.model.values import shape


@dataclass(slots=True)
class ConnectionSets:
    """Sets of connected variables; flows count with the side from which they are seen."""

    streams: Streams
    links: list[tuple[Variable, Variable, Place, str]] = field(default_factory=list)
    flow_nodes: dict[tuple[Variable, bool], tuple[Variable, bool]] = field(default_factory=dict)
    parent: dict[tuple[Variable, bool], tuple[Variable, bool]] = field(default_factory=dict)
    buses: list[tuple[Instance, Instance, tuple[bool, bool], Place, str, s.Connect]] = field(
        default_factory=list
    )
    where: dict[tuple[Variable, bool], tuple[Place, str]] = field(default_factory=dict)

    def add_connect(self, node: s.Connect, scope: Scope) -> None:
        """One ``connect`` clause: pair up the members of both sides."""
        where = scope.place(node)
        self._grow(node, scope)
        left, right = resolve(node.left, scope), resolve(node.right, scope)
        if left is None or right is None:
            return  # one side is switched off by its condition (specification 4.4.5)
        outside = (self._outside(node.left, scope), self._outside(node.right, scope))
        self._pair(left, right, outside, where, scope.instance.path, node)

    def _grow(self, node: s.Connect, scope: Scope) -> None:
        """Give an expandable connector the member that this connection asks for."""
        ends = open_end(node.left, scope), open_end(node.right, scope)
        if ends[0] is not None and ends[1] is not None:
            raise TypeFault(
                f"neither side of connect({node.left.text}, {node.right.text}) says what kind of variable is meant.",
                scope.place(node), "Connect one of them to a component first.",
            )  # fmt: skip
        for end, other in ((ends[0], node.right), (ends[1], node.left)):
            if end is not None:
                like = resolve(other, scope)
                if like is not None:
                    grow(*end, like)

    def finish_expandable(self) -> None:
        """Carry members over between connected expandable connectors until all have the same."""
        growing = True
        while growing:
            growing = False
            for a, b, *_ in self.buses:
                for one, other in ((a, b), (b, a)):
                    for name in other.declared:
                        if name not in one.declared and one.is_expandable:
                            grow(one, name, other.member(name))
                            growing = True
        buses, self.buses = self.buses, []
        for a, b, outside, where, component, node in buses:
            for name in a.declared:
                if name in b.declared:
                    self._pair(a.member(name), b.member(name), outside, where, component, node)
        if self.buses:
            self.finish_expandable()

    @property
    def connected(self) -> set[Variable]:
        """All variables that take part in a connection."""
        linked = {v for link in self.links for v in link[:2]}
        return (
            linked | {key for key, _ in self.flow_nodes} | {key for key, _ in self.streams.parent}
        )

    def _outside(self, reference: s.Ref, scope: Scope) -> bool:
        """Whether the connector belongs to the border of the component that holds the connect clause.

        A protected connector cannot be reached from further outside; it counts as a part inside.
        """
        if len(reference.parts) == 1:
            declared = scope.instance.declared.get(reference.parts[0].name)
            return declared is None or not declared.node.protected
        first = scope.instance.member(reference.parts[0].name)
        while isinstance(first, list) and first:
            first = first[0]
        return isinstance(first, Instance) and first.is_connector

    def _pair(
        self,
        a: Any,
        b: Any,
        outside: tuple[bool, bool],
        where: Place,
        component: str,
        node: s.Connect,
    ) -> None:
        names = f"connect({node.left.text}, {node.right.text})"
        if isinstance(a, list) or isinstance(b, list):
            if shape(a) != shape(b):
                raise TypeFault(f"{names} joins sizes {shape(a) or 1} and {shape(b) or 1}.", where)
            for p, q in zip(a, b, strict=True):
                self._pair(p, q, outside, where, component, node)
            return
        if isinstance(a, Instance) and isinstance(b, Instance):
            for side, text in ((a, node.left.text), (b, node.right.text)):
                if not _in_connector(side):
                    raise TypeFault(
                        f"{names}: '{text}' is a {side.definition.name}, not a connector.", where,
                        "Connect one of its ports.",
                    )  # fmt: skip
            if a.is_expandable or b.is_expandable:
                self.buses.append((a, b, outside, where, component, node))
                return
            if set(a.declared) != set(b.declared):
                raise TypeFault(
                    f"{names} joins a {a.definition.name} and a {b.definition.name}, which have different variables: "
                    f"{', '.join(sorted(set(a.declared) ^ set(b.declared)))}.", where,
                    "Connect ports of the same kind.",
                )  # fmt: skip
            for name in a.declared:
                self._pair(a.member(name), b.member(name), outside, where, component, node)
            return
        if isinstance(a, Variable) and isinstance(b, Variable):
            self._pair_scalars(a, b, outside, where, component, names)
            return
        raise TypeFault(f"{names} joins things that are not both ports of the same kind.", where)

    def _pair_scalars(
        self,
        a: Variable,
        b: Variable,
        outside: tuple[bool, bool],
        where: Place,
        component: str,
        names: str,
    ) -> None:
        if a.flow != b.flow:
            raise TypeFault(
                f"{names} joins the flow variable of one side with a potential of the other.", where
            )
        if a.type != b.type:
            raise TypeFault(
                f"{names} joins '{a.name}' ({a.type}) and '{b.name}' ({b.type}).", where
            )
        if a.variability in ("parameter", "constant") or b.variability in ("parameter", "constant"):
            return
        if a.stream or b.stream:
            if a.stream != b.stream:
                raise TypeFault(
                    f"{names} joins the stream variable of one side with another variable.", where
                )
            self.streams.connect((a, outside[0]), (b, outside[1]), where, component)
            return
        if not a.flow:
            if a.direction == b.direction == "output" and outside == (False, False):
                raise TypeFault(
                    f"{names} joins two outputs, '{a.name}' and '{b.name}'.", where,
                    "A signal has one source; connect an output to an input.",
                )  # fmt: skip
            self.links.append((a, b, where, component))
            return
        p, q = self._node(a, outside[0]), self._node(b, outside[1])
        for key in (p, q):
            self.where.setdefault(key, (where, component))
        self.parent[self._find(p)] = self._find(q)

    def _node(self, variable: Variable, outside: bool) -> tuple[Variable, bool]:
        key = (variable, outside)
        if key not in self.flow_nodes:
            self.flow_nodes[key] = (variable, outside)
            self.parent[key] = key
        return key

    def _find(self, key: tuple[Variable, bool]) -> tuple[Variable, bool]:
        while self.parent[key] != key:
            self.parent[key] = self.parent[self.parent[key]]
            key = self.parent[key]
        return key

    def equations(self, all_flows: list[Variable]) -> list[FlatEquation]:
        """The equations of all sets; a flow that is nowhere connected from outside is zero."""
        equations: list[FlatEquation] = []
        union: dict[Variable, Variable] = {}

        def root(v: Variable) -> Variable:
            while union.setdefault(v, v) is not v:
                union[v] = union[union[v]]
                v = union[v]
            return v

        for a, b, where, component in self.links:
            if root(a) == root(b):
                continue  # the same two were joined along another way
            union[root(a)] = root(b)
            equations.append(FlatEquation(x.var(b), x.var(a), where, component, "connection"))
        for flow in all_flows:
            self._node(flow, False)
        sets: dict[tuple[Variable, bool], list[tuple[Variable, bool]]] = {}
        for key, member in self.flow_nodes.items():
            sets.setdefault(self._find(key), []).append(member)
        for members in sets.values():
            total: x.Expr = x.ZERO
            for variable, outside in members:
                total = (
                    x.subtract(total, x.var(variable)) if outside else x.add(total, x.var(variable))
                )
            variable, outside = members[0]
            if len(members) == 1:
                equations.append(
                    FlatEquation(
                        x.var(variable),
                        x.ZERO,
                        variable.where,
                        variable.component,
                        "unconnected flow",
                    )
                )
            else:
                place, component = self.where[(variable, outside)]
                equations.append(FlatEquation(total, x.ZERO, place, component, "connection"))
        return equations


def _in_connector(instance: Instance) -> bool:
    """Whether it is a connector, or a record in one."""
    at: Instance | None = instance
    while at is not None and not at.is_connector and at.model.tree.is_kind(at.definition, "record"):
        at = at.parent
    return at is not None and at.is_connector
