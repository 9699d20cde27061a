"""The sheet of a model, read from its annotations."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from movrel.language import syntax as s
from movrel.language.edit_wires import port_text
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import lineage
from movrel.sheet.elements import (
    Icon,
    Port,
    Sheet,
    SheetComponent,
    SheetConnection,
    StateTransition,
)
from movrel.sheet.memo import Memo
from movrel.sheet.preview import preview
from movrel.sheet.symbols import (
    DEFAULT_EXTENT,
    absent_ports,
    layer,
    of_library,
    placement_of,
    port_of,
    whole_icon,
    without,
)
from movrel.sheet.transitions import transitions
from movrel.sheet.wiring import Wire, wire_up

#: The class of a state that does nothing but be active, and the place from which arrows are drawn.
STATE, ARROW = "Movrel.Signals.State", "arrow"


@dataclass(frozen=True, slots=True)
class _Drawn:
    """A part with its symbol; the extent of the part is empty where nobody placed it."""

    part: SheetComponent
    icon: Icon


#: For each owner and name of a class: the class, and its symbol if parts of it are drawn.
_Classes = dict[tuple[int, str], tuple[Definition | None, Icon | None]]


def sheet(tree: ClassTree, definition: Definition) -> Sheet:
    """Components with symbols and ports, connections with routes, and the notes of a model."""
    parts: list[_Drawn] = []
    wires: list[Wire] = []
    arrows: list[StateTransition] = []
    classes: _Classes = {}
    for owner in lineage(tree, definition):
        node = owner.node
        arrows += transitions(owner, owner is definition)
        for element in node.elements:
            if isinstance(element, s.Component):
                drawn = _component(tree, owner, element, classes)
                if drawn is not None:
                    parts.append(drawn)
        wires += [_wire(owner, c) for c in _connections(node.equations)]
    parts = _with_arrow_ports(_all_placed(parts), arrows)
    components = [p.part for p in parts]
    connections = wire_up(wires, [(p.part, p.icon) for p in parts])
    diagram = layer(definition, "Diagram")
    return Sheet(
        name=definition.name,
        qualified=definition.qualified,
        description=definition.node.comment,
        extent=_extent_of_all(components, connections, diagram.extent if diagram.given else None),
        graphics=diagram.graphics,
        icons={p.part.symbol: p.icon for p in parts},
        components=components,
        connections=connections,
        transitions=arrows,
    )


def _connections(equations: Iterable[s.AnyEquation]) -> Iterator[s.Connect]:
    """The connections, those of all elements of an array once."""
    for equation in equations:
        if isinstance(equation, s.Connect):
            yield equation
        elif isinstance(equation, s.ForEquation):
            yield from _connections(equation.body)


def _with_arrow_ports(parts: list[_Drawn], arrows: list[StateTransition]) -> list[_Drawn]:
    """Give the states of state machines a place from which arrows are drawn."""
    joined = {end for arrow in arrows for end in (arrow.from_state, arrow.to_state)}
    return [
        _as_state(p) if p.part.class_name == STATE or p.part.name in joined else p for p in parts
    ]


def _as_state(drawn: _Drawn) -> _Drawn:
    x1, y1, x2, y2 = drawn.icon.extent
    x, y = max(x1, x2), (y1 + y2) / 2
    port = Port(
        name=ARROW, class_name=STATE, domain="state", direction="", array="", extent=[x - 10.0, y - 10.0, x + 10.0, y + 10.0],
        rotation=0.0, description="Arrow to another state", condition="",
    )  # fmt: skip
    symbol = replace(drawn.icon, ports=[*drawn.icon.ports, port])
    return _Drawn(replace(drawn.part, symbol=drawn.part.symbol + " as a state"), symbol)


def _component(
    tree: ClassTree, owner: Definition, node: s.Component, classes: _Classes
) -> _Drawn | None:
    """A component as it is drawn; scalars and what has no symbol are not drawn."""
    key = (id(owner), node.type_name)
    if key not in classes:
        kind = tree.lookup(node.type_name, owner)
        drawable = kind is not None and not kind.predefined and kind.node.kind != "type"
        # Parts of one class share one symbol.
        classes[key] = (kind, whole_icon(tree, kind) if drawable and kind is not None else None)
    kind, symbol = classes[key]
    if kind is None or symbol is None or node.protected:
        return None
    if not of_library(kind, symbol):
        return _drawn(tree, owner, node, kind, symbol)
    # What is written the same of a class of the component library is drawn the same.
    written = (kind.qualified, written_text(owner, node))
    kept = _written_components.get(written)
    if kept is None:
        kept = _drawn(tree, owner, node, kind, symbol)
        if kept.part.port is None:
            _written_components.keep(written, kept)
    return kept


#: Drawn components by class and text, and ends and corners of connections by text.
_written_components: Memo[tuple[str, str], _Drawn] = Memo()
_written_connections: Memo[str, tuple[str, str, list[list[float]] | None, str]] = Memo()


def written_text(owner: Definition, node: s.Component | s.Connect) -> str:
    """A component or connection with its comment and annotation, exactly as written."""
    return owner.source.text[node.start : max(node.end, node.comment.end if node.comment else 0)]


def _drawn(
    tree: ClassTree, owner: Definition, node: s.Component, kind: Definition, symbol: Icon
) -> _Drawn:
    placed = placement_of(node)
    absent = absent_ports(tree, kind, node, symbol)
    part = SheetComponent(
        name=node.name,
        class_name=kind.qualified,
        # Parts of one class share one symbol, but for those that lack some of its ports.
        symbol=" without ".join([kind.qualified, *sorted(absent)]),
        description=node.comment.text if node.comment and node.comment.text else kind.node.comment,
        extent=placed.extent if placed else [],
        rotation=placed.rotation if placed else 0.0,
        opens=False,
        labels={},
        numbers={},
        array=_how_many(owner, node),
        curves=preview(tree, kind, node),
        port=_own_port(tree, owner, node) if tree.is_kind(kind, "connector") else None,
    )
    return _Drawn(part, without(symbol, absent))


def _how_many(owner: Definition, node: s.Component) -> str:
    """The sizes of an array of parts, as written."""
    sizes = [*node.subscripts, *node.type_subscripts]
    return " × ".join(owner.source.text[n.start : n.end].strip() or ":" for n in sizes)


def _own_port(tree: ClassTree, owner: Definition, node: s.Component) -> Port | None:
    """A port of the model itself; it may have no place on the symbol yet."""
    port = port_of(tree, owner, node)
    return (
        replace(port, extent=port.extent or [-10.0, -10.0, 10.0, 10.0])
        if port is not None
        else None
    )


def _all_placed(parts: list[_Drawn]) -> list[_Drawn]:
    """Components without a placement stand in rows below the others."""
    given = [d.part.extent for d in parts if d.part.extent]
    bottom = min((min(e[1], e[3]) for e in given), default=0.0) - 60.0
    placed: list[_Drawn] = []
    count = 0
    for drawn in parts:
        if not drawn.part.extent:
            x, y = -100.0 + 60.0 * (count % 5), bottom - 60.0 * (count // 5)
            drawn = _Drawn(replace(drawn.part, extent=[x, y, x + 40.0, y + 40.0]), drawn.icon)
            count += 1
        placed.append(drawn)
    return placed


def wire_points(node: s.Connect) -> list[list[float]] | None:
    """The corners through which a wire is drawn, if somebody chose them."""
    members = note.members(note.find(node.comment.annotation if node.comment else None, "Line"))
    points = members.get("points")
    good = isinstance(points, list) and all(
        isinstance(p, list) and len(p) == 2 and None not in p for p in points
    )
    return points if good and points is not None and len(points) > 1 else None


def cable_of(node: s.Connect) -> str:
    """The cable that a wire belongs to: ``__Movrel(cable="…")``; empty for none."""
    given = note.members(note.find(node.comment.annotation if node.comment else None, VENDOR))
    cable = given.get("cable")
    return cable if isinstance(cable, str) else ""


def _wire(owner: Definition, node: s.Connect) -> Wire:
    text = written_text(owner, node)
    written = _written_connections.get(text)
    if written is None:
        ends = port_text(owner.source, node.left), port_text(owner.source, node.right)
        written = _written_connections.keep(text, (*ends, wire_points(node), cable_of(node)))
    start, end, points, cable = written
    return Wire(start, end, points or [], points is not None, cable=cable)


def _extent_of_all(
    components: Sequence[SheetComponent],
    connections: Sequence[SheetConnection],
    given: list[float] | None,
) -> list[float]:
    """An extent that holds everything drawn."""
    xs = [v for c in components for v in (c.extent[0], c.extent[2])] + [
        p[0] for c in connections for p in c.points
    ]
    ys = [v for c in components for v in (c.extent[1], c.extent[3])] + [
        p[1] for c in connections for p in c.points
    ]
    if given:
        xs += [given[0], given[2]]
        ys += [given[1], given[3]]
    if not xs:
        return list(DEFAULT_EXTENT)
    margin = 0.0 if given else 20.0
    return [min(xs) - margin, min(ys) - margin, max(xs) + margin, max(ys) + margin]
