"""The sheet of a model as plain data, read from its annotations.

Coordinates are those of the standard's graphics (18.6): y upwards, extents ``[x1, y1, x2, y2]``.
"""

from __future__ import annotations

from typing import Any

from movrel.language import syntax as s
from movrel.language.edit_class import port_text
from movrel.model import annotation as note
from movrel.model.classes import LIBRARY_FOLDER, ClassTree, Definition
from movrel.model.conditions import holds, own_value, written_value
from movrel.model.declared import components, lineage
from movrel.model.memo import Memo
from movrel.model.transitions import transitions
from movrel.model.wiring import wire_up

#: For each owner and name of a class: the class, and its symbol if parts of it are drawn.
Known = dict[tuple[int, str], tuple[Definition | None, dict[str, Any] | None]]
_DEFAULT_EXTENT = [-100.0, -100.0, 100.0, 100.0]
_SHAPES = ("Line", "Polygon", "Rectangle", "Ellipse", "Text")


def sheet(tree: ClassTree, definition: Definition) -> dict[str, Any]:
    """Components with symbols and ports, connections with routes, and the notes of a model."""
    components: list[dict[str, Any]] = []
    connections: list[dict[str, Any]] = []
    arrows: list[dict[str, Any]] = []
    known: Known = {}
    for owner in lineage(tree, definition):
        node = owner.node
        arrows += transitions(owner, owner is definition)
        for element in node.elements:
            if isinstance(element, s.Component):
                drawn = _component(tree, owner, element, known)
                if drawn is not None:
                    components.append(drawn)
        for equation in node.equations:
            if isinstance(equation, s.Connect):
                connections.append(_connection(owner, equation))
    _place_the_unplaced(components)
    _mark_states(tree, components, arrows)
    wire_up(connections, components)
    diagram = _layer(definition, "Diagram")
    return {
        "name": definition.name,
        "qualified": definition.qualified,
        "description": definition.node.comment,
        "extent": _reach(components, connections, diagram["extent"] if diagram["given"] else None),
        "graphics": diagram["graphics"],
        "icons": {c["symbol"]: c["icon"] for c in components},
        "components": components,
        "connections": connections,
        "transitions": arrows,
    }


def _mark_states(tree: ClassTree, components: list[dict[str, Any]], arrows: list[dict[str, Any]]) -> None:
    """Give the states of state machines a place from which arrows are drawn."""
    joined = {arrow[end] for arrow in arrows for end in ("from", "to")}
    for part in components:
        if part["class"] == STATE or part["name"] in joined:
            x1, y1, x2, y2 = part["icon"]["extent"]
            x, y = max(x1, x2), (y1 + y2) / 2
            port = {
                "name": ARROW, "class": STATE, "domain": "state", "direction": "", "array": "", "rotation": 0.0, "condition": "",
                "extent": [x - 10.0, y - 10.0, x + 10.0, y + 10.0], "description": "Arrow to another state",
            }  # fmt: skip
            part["icon"] = part["icon"] | {"ports": [*part["icon"]["ports"], port]}
            part["symbol"] += " as a state"


#: The class of a state that does nothing but be active, and the place from which arrows are drawn.
STATE, ARROW = "Movrel.Signals.State", "arrow"

_library_icons: dict[str, dict[str, Any]] = {}


def icon(tree: ClassTree, definition: Definition, node: s.Component | None = None) -> dict[str, Any]:
    """The symbol of a class with those of its bases beneath, and where its ports sit.

    Ports that exist under a condition are shown as the defaults say, or as those of the component ``node``.
    """
    whole = whole_icon(tree, definition)
    absent = _absent(tree, definition, node, whole)
    return whole | {"ports": [p for p in whole["ports"] if p["name"] not in absent]} if absent else whole


def _absent(tree: ClassTree, definition: Definition, node: s.Component | None, whole: dict[str, Any]) -> set[str]:
    """The ports whose condition does not hold."""
    if not any(p["condition"] for p in whole["ports"]):
        return set()
    declared = {c.name: c for _, c in components(tree, definition)}

    def value_of(name: str) -> Any:
        try:
            return written_value(node, name) if node is not None else own_value(declared[name])
        except KeyError:
            return own_value(declared[name])

    return {p["name"] for p in whole["ports"] if p["condition"] and not holds(declared[p["name"]].condition, value_of)}


def whole_icon(tree: ClassTree, definition: Definition) -> dict[str, Any]:
    """The symbol with every port that the class may have."""
    if tree.library != LIBRARY_FOLDER or not definition.source.file.startswith("library/"):
        return _icon(tree, definition)
    # The component library does not change while the program runs.
    found = _library_icons.get(definition.qualified)
    if found is None:
        found = _library_icons[definition.qualified] = _icon(tree, definition)
    return found


def _icon(tree: ClassTree, definition: Definition) -> dict[str, Any]:
    extent, graphics = None, []
    ports: list[dict[str, Any]] = []
    for owner in lineage(tree, definition):
        node = owner.node
        layer = _layer(owner, "Icon")
        graphics += layer["graphics"]
        if layer["given"]:
            extent = layer["extent"]
        connectors: dict[str, bool] = {}
        for element in node.elements:
            if isinstance(element, s.Component) and not element.protected:
                name = element.type_name
                if name not in connectors:
                    kind = tree.lookup(name, owner)
                    connectors[name] = kind is not None and tree.is_kind(kind, "connector")
                port = _port(tree, owner, element) if connectors[name] else None
                if port is not None:
                    ports.append(port)
    _place_ports(ports, extent or _DEFAULT_EXTENT)
    return {"extent": extent or _DEFAULT_EXTENT, "graphics": graphics, "ports": ports}


def _place_ports(ports: list[dict[str, Any]], extent: list[float]) -> None:
    """Ports that nobody placed: inputs on the left, outputs on the right, physical ones on either side in turn."""
    left, bottom, right, top = (
        min(extent[0], extent[2]),
        min(extent[1], extent[3]),
        max(extent[0], extent[2]),
        max(extent[1], extent[3]),
    )
    sides: dict[str, list[dict[str, Any]]] = {"left": [], "right": []}
    physical = 0
    for port in ports:
        if port["extent"] is not None:
            continue
        if port["direction"]:
            side = "left" if port["direction"] == "in" else "right"
        else:
            side = "right" if physical % 2 else "left"
            physical += 1
        sides[side].append(port)
    for side, x in (("left", left), ("right", right)):
        for i, port in enumerate(sides[side]):
            y = top - (top - bottom) * (i + 1) / (len(sides[side]) + 1)
            port["extent"] = [x - 10.0, y - 10.0, x + 10.0, y + 10.0]


def _layer(definition: Definition, name: str) -> dict[str, Any]:
    members = note.members(note.find(definition.node.annotation, name))
    system = members.get("coordinateSystem")
    extent = _flat_extent(system.get("extent")) if isinstance(system, dict) else None
    written = members.get("graphics") or []
    graphics = [shape | {"index": i} for i, shape in enumerate(written) if isinstance(shape, dict) and shape["is"] in _SHAPES]
    dynamic = _dynamic_parts(definition, name)
    for i, shape in enumerate(graphics):
        if i in dynamic:
            shape["dynamic"] = dynamic[i]
    return {"extent": extent or _DEFAULT_EXTENT, "graphics": graphics, "given": extent is not None}


def _dynamic_parts(definition: Definition, name: str) -> dict[int, dict[str, Any]]:
    """For each shape the attributes that DynamicSelect makes move, as expressions in plain data."""
    found: dict[int, dict[str, Any]] = {}
    layer = note.find(definition.node.annotation, name)
    if layer is None or layer.modification is None:
        return found
    for argument in layer.modification.arguments:
        if not (isinstance(argument, s.Modify) and argument.name == "graphics" and argument.modification):
            continue
        shapes = argument.modification.value
        drawn = [x for x in shapes.items if isinstance(x, s.Call) and x.name in _SHAPES] if isinstance(shapes, s.Array) else []
        for i, shape in enumerate(drawn):
            for named in shape.named:
                if isinstance(named.value, s.Call) and named.value.name == "DynamicSelect" and len(named.value.arguments) == 2:
                    found.setdefault(i, {})[named.name] = as_data(named.value.arguments[1])
    return found


def as_data(node: Any) -> Any:
    """An expression as nested lists: ``["+", a, b]``, ``["ref", "level"]``, ``["list", …]`` or a number."""
    match node:
        case s.Number():
            return float(node.text)
        case s.String() | s.Boolean():
            return node.value
        case s.Ref():
            return ["ref", node.text]
        case s.Unary():
            return [node.operator, as_data(node.operand)]
        case s.Binary():
            return [node.operator, as_data(node.left), as_data(node.right)]
        case s.Array():
            return ["list", *(as_data(item) for item in node.items)]
        case s.Tuple(items=(only,)):
            return as_data(only)
        case s.IfExpression(branches=((condition, then),)):
            return ["if", as_data(condition), as_data(then), as_data(node.otherwise)]
        case s.Call():
            return ["call", node.name, *(as_data(a) for a in node.arguments)]
        case _:
            return None


def _flat_extent(value: Any) -> list[float] | None:
    if isinstance(value, list) and len(value) == 2 and all(isinstance(p, list) and len(p) == 2 for p in value):
        numbers = [*value[0], *value[1]]
        if all(isinstance(n, float) for n in numbers):
            return numbers
    return None


def placement_of(node: s.Component, on_symbol: bool = False) -> dict[str, Any] | None:
    """Where a component lies as its Placement says, on the sheet or, for a port, on the symbol."""
    comment = node.comment
    members = note.members(note.find(comment.annotation if comment else None, "Placement"))
    transformation = members.get("iconTransformation") if on_symbol else None
    transformation = transformation or members.get("transformation")
    if not isinstance(transformation, dict):
        return None
    extent = _flat_extent(transformation.get("extent"))
    if extent is None:
        return None
    origin = transformation.get("origin")
    if isinstance(origin, list) and len(origin) == 2:
        extent = [extent[0] + origin[0], extent[1] + origin[1], extent[2] + origin[0], extent[3] + origin[1]]
    rotation = transformation.get("rotation")
    return {"extent": extent, "rotation": rotation if isinstance(rotation, float) else 0.0}


def domain_of(tree: ClassTree, definition: Definition) -> str:
    """The domain of a connector class, which decides how its wires are drawn."""
    for owner in reversed(lineage(tree, definition)):
        given = note.members(note.find(owner.node.annotation, "__Movrel")).get("domain")
        if isinstance(given, str):
            return given
    return "signal" if definition.node.base_prefixes else "other"


def _port(tree: ClassTree, owner: Definition, node: s.Component) -> dict[str, Any] | None:
    found = tree.lookup(node.type_name, owner)
    if found is None or not tree.is_kind(found, "connector"):
        return None
    placed = placement_of(node, on_symbol=True)
    # The outer direction counts; the sheet of the model itself sees it from the other side.
    prefixes = (*node.prefixes, *found.node.base_prefixes)
    return {
        "name": node.name,
        "class": found.qualified,
        "domain": domain_of(tree, found),
        "direction": "in" if "input" in prefixes else "out" if "output" in prefixes else "",
        "extent": placed["extent"] if placed else None,
        "array": "".join(owner.source.slice(x) + ", " for x in (*node.type_subscripts, *node.subscripts))[:-2],
        "rotation": placed["rotation"] if placed else 0.0,
        "description": node.comment.text if node.comment else "",
        "condition": owner.source.slice(node.condition) if node.condition is not None else "",
    }


def _own_port(tree: ClassTree, owner: Definition, node: s.Component) -> dict[str, Any] | None:
    """A port of the model itself; it may have no place on the symbol yet."""
    port = _port(tree, owner, node)
    return port | {"extent": port["extent"] or [-10.0, -10.0, 10.0, 10.0]} if port is not None else None


def _component(tree: ClassTree, owner: Definition, node: s.Component, known: Known) -> dict[str, Any] | None:
    """A component as it is drawn; scalars and what has no symbol are not drawn."""
    key = (id(owner), node.type_name)
    if key not in known:
        found = tree.lookup(node.type_name, owner)
        drawable = found is not None and not found.predefined and found.node.kind != "type"
        # Parts of one class share one symbol.
        known[key] = (found, whole_icon(tree, found) if drawable and found is not None else None)
    found, symbol = known[key]
    if found is None or symbol is None or node.protected:
        return None
    if symbol is not _library_icons.get(found.qualified):
        return _drawn(tree, owner, node, found, symbol)
    # What is written the same of a class of the component library is drawn the same.
    written = (found.qualified, written_text(owner, node))
    kept = _written_components.get(written)
    if kept is None:
        kept = _drawn(tree, owner, node, found, symbol)
        if kept["port"] is None:
            _written_components.keep(written, kept)
    return dict(kept)


#: Drawn components by class and text, and ends and corners of connections by text.
_written_components: Memo[tuple[str, str], dict[str, Any]] = Memo()
_written_connections: Memo[str, tuple[str, str, list[list[float]] | None]] = Memo()


def written_text(owner: Definition, node: s.Component | s.Connect) -> str:
    """A component or connection with its comment and annotation, exactly as written."""
    return owner.source.text[node.start : max(node.end, node.comment.end if node.comment else 0)]


def _drawn(tree: ClassTree, owner: Definition, node: s.Component, found: Definition, symbol: dict[str, Any]) -> dict[str, Any]:
    placed = placement_of(node)
    absent = _absent(tree, found, node, symbol)
    if absent:
        symbol = symbol | {"ports": [p for p in symbol["ports"] if p["name"] not in absent]}
    return {
        "name": node.name,
        "class": found.qualified,
        # Parts of one class share one symbol, but for those that lack some of its ports.
        "symbol": " without ".join([found.qualified, *sorted(absent)]),
        "description": node.comment.text if node.comment and node.comment.text else found.node.comment,
        "placed": placed is not None,
        "extent": placed["extent"] if placed else None,
        "rotation": placed["rotation"] if placed else 0.0,
        "inherited": False,
        "opens": False,
        "labels": {},
        "numbers": {},
        "icon": symbol,
        "port": _own_port(tree, owner, node) if tree.is_kind(found, "connector") else None,
    }


def _place_the_unplaced(components: list[dict[str, Any]]) -> None:
    """Components without a placement stand in rows below the others."""
    placed = [c["extent"] for c in components if c["extent"]]
    bottom = min((min(e[1], e[3]) for e in placed), default=0.0) - 60.0
    for i, component in enumerate(c for c in components if not c["extent"]):
        x, y = -100.0 + 60.0 * (i % 5), bottom - 60.0 * (i // 5)
        component["extent"] = [x, y, x + 40.0, y + 40.0]


def wire_points(node: s.Connect) -> list[list[float]] | None:
    """The corners through which a wire is drawn, if somebody chose them."""
    members = note.members(note.find(node.comment.annotation if node.comment else None, "Line"))
    points = members.get("points")
    good = isinstance(points, list) and all(isinstance(p, list) and len(p) == 2 and None not in p for p in points)
    return points if good and points is not None and len(points) > 1 else None


def _connection(owner: Definition, node: s.Connect) -> dict[str, Any]:
    text = written_text(owner, node)
    written = _written_connections.get(text)
    if written is None:
        ends = port_text(owner.source, node.left), port_text(owner.source, node.right)
        written = _written_connections.keep(text, (*ends, wire_points(node)))
    start, end, points = written
    return {
        "from": start,
        "to": end,
        "points": points,
        "bent": points is not None,
        "domain": "other",
        "direction": "",
    }


def _reach(components: list[dict[str, Any]], connections: list[dict[str, Any]], given: list[float] | None) -> list[float]:
    """An extent that holds everything drawn."""
    xs = [v for c in components for v in (c["extent"][0], c["extent"][2])] + [p[0] for c in connections for p in c["points"]]
    ys = [v for c in components for v in (c["extent"][1], c["extent"][3])] + [p[1] for c in connections for p in c["points"]]
    if given:
        xs += [given[0], given[2]]
        ys += [given[1], given[3]]
    if not xs:
        return list(_DEFAULT_EXTENT)
    margin = 0.0 if given else 20.0
    return [min(xs) - margin, min(ys) - margin, max(xs) + margin, max(ys) + margin]
