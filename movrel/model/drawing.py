"""The sheet of a model as plain data, read from its annotations.

Coordinates are those of the standard's graphics (18.6): y upwards, extents ``[x1, y1, x2, y2]``.
"""

from __future__ import annotations

from typing import Any

from movrel.language import syntax as s
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.model.routing import facing, route

_DEFAULT_EXTENT = [-100.0, -100.0, 100.0, 100.0]
_SHAPES = ("Line", "Polygon", "Rectangle", "Ellipse", "Text")


def sheet(tree: ClassTree, definition: Definition) -> dict[str, Any]:
    """Components with symbols and ports, connections with routes, and the notes of a model."""
    components: list[dict[str, Any]] = []
    connections: list[dict[str, Any]] = []
    for owner, node in _lineage(tree, definition):
        for element in node.elements:
            if isinstance(element, s.Component):
                drawn = _component(tree, owner, element)
                if drawn is not None:
                    components.append(drawn)
        for equation in node.equations:
            if isinstance(equation, s.Connect):
                connections.append(_connection(owner, equation))
    _place_the_unplaced(components)
    by_name = {c["name"]: c for c in components}
    for connection in connections:
        _finish_route(connection, by_name)
    diagram = _layer(definition, "Diagram")
    return {
        "name": definition.name,
        "qualified": definition.qualified,
        "description": definition.node.comment,
        "extent": _reach(components, connections, diagram["extent"] if diagram["given"] else None),
        "graphics": diagram["graphics"],
        "components": components,
        "connections": connections,
    }


def icon(tree: ClassTree, definition: Definition) -> dict[str, Any]:
    """The symbol of a class with those of its bases beneath, and where its ports sit."""
    extent, graphics = None, []
    ports: list[dict[str, Any]] = []
    for owner, node in _lineage(tree, definition):
        layer = _layer(owner, "Icon")
        graphics += layer["graphics"]
        if layer["given"]:
            extent = layer["extent"]
        for element in node.elements:
            if isinstance(element, s.Component) and not element.protected:
                port = _port(tree, owner, element)
                if port is not None:
                    ports.append(port)
    return {"extent": extent or _DEFAULT_EXTENT, "graphics": graphics, "ports": ports}


def _lineage(tree: ClassTree, definition: Definition, depth: int = 0) -> list[tuple[Definition, s.ClassDef]]:
    """The class after all its bases."""
    found: list[tuple[Definition, s.ClassDef]] = []
    if depth < 30 and not definition.predefined:
        for base in tree.bases(definition):
            found += _lineage(tree, base, depth + 1)
        found.append((definition, definition.node))
    return found


def _layer(definition: Definition, name: str) -> dict[str, Any]:
    members = note.members(note.find(definition.node.annotation, name))
    system = members.get("coordinateSystem")
    extent = _flat_extent(system.get("extent")) if isinstance(system, dict) else None
    graphics = [shape for shape in members.get("graphics") or [] if isinstance(shape, dict) and shape["is"] in _SHAPES]
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


def _placement(node: s.Component) -> dict[str, Any] | None:
    comment = node.comment
    members = note.members(note.find(comment.annotation if comment else None, "Placement"))
    transformation = members.get("transformation")
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
    for owner, _ in reversed(_lineage(tree, definition)):
        given = note.members(note.find(owner.node.annotation, "__Movrel")).get("domain")
        if isinstance(given, str):
            return given
    return "signal" if definition.node.base_prefixes else "other"


def _port(tree: ClassTree, owner: Definition, node: s.Component) -> dict[str, Any] | None:
    found = tree.lookup(node.type_name, owner)
    if found is None or not tree.is_kind(found, "connector"):
        return None
    placed = _placement(node)
    prefixes = (*node.prefixes, *found.node.base_prefixes)
    return {
        "name": node.name,
        "class": found.qualified,
        "domain": domain_of(tree, found),
        "direction": "in" if "input" in prefixes else "out" if "output" in prefixes else "",
        "extent": placed["extent"] if placed else [-10.0, -10.0, 10.0, 10.0],
        "rotation": placed["rotation"] if placed else 0.0,
        "description": node.comment.text if node.comment else "",
    }


def _component(tree: ClassTree, owner: Definition, node: s.Component) -> dict[str, Any] | None:
    """A component as it is drawn; scalars and what has no symbol are not drawn."""
    found = tree.lookup(node.type_name, owner)
    if found is None or found.predefined or found.node.kind == "type" or node.protected:
        return None
    placed = _placement(node)
    return {
        "name": node.name,
        "class": found.qualified,
        "description": node.comment.text if node.comment and node.comment.text else found.node.comment,
        "placed": placed is not None,
        "extent": placed["extent"] if placed else None,
        "rotation": placed["rotation"] if placed else 0.0,
        "inherited": False,
        "icon": icon(tree, found),
        "port": _port(tree, owner, node),
    }


def _place_the_unplaced(components: list[dict[str, Any]]) -> None:
    """Components without a placement stand in rows below the others."""
    placed = [c["extent"] for c in components if c["extent"]]
    bottom = min((min(e[1], e[3]) for e in placed), default=0.0) - 60.0
    for i, component in enumerate(c for c in components if not c["extent"]):
        x, y = -100.0 + 60.0 * (i % 5), bottom - 60.0 * (i // 5)
        component["extent"] = [x, y, x + 40.0, y + 40.0]


def _connection(owner: Definition, node: s.Connect) -> dict[str, Any]:
    members = note.members(note.find(node.comment.annotation if node.comment else None, "Line"))
    points = members.get("points")
    good = isinstance(points, list) and all(isinstance(p, list) and len(p) == 2 and None not in p for p in points)
    return {
        "from": node.left.text,
        "to": node.right.text,
        "points": points if good else None,
        "line": owner.place(node).line,
        "domain": "other",
        "direction": "",
    }


def port_position(component: dict[str, Any], port: dict[str, Any]) -> tuple[float, float]:
    """The middle of a port on the sheet."""
    import math

    x1, y1, x2, y2 = component["extent"]
    a1, b1, a2, b2 = component["icon"]["extent"]
    p = port["extent"]
    u = ((p[0] + p[2]) / 2 - a1) / (a2 - a1)
    v = ((p[1] + p[3]) / 2 - b1) / (b2 - b1)
    x, y = x1 + u * (x2 - x1), y1 + v * (y2 - y1)
    cx, cy = (x1 + x2) / 2, (y1 + y2) / 2
    angle = math.radians(component["rotation"])
    dx, dy = x - cx, y - cy
    return (
        cx + dx * math.cos(angle) - dy * math.sin(angle),
        cy + dx * math.sin(angle) + dy * math.cos(angle),
    )


def _finish_route(connection: dict[str, Any], components: dict[str, dict[str, Any]]) -> None:
    """Domain, direction, and a right-angled route that ends exactly in the ports."""
    ends: list[tuple[float, float] | None] = []
    facings: list[tuple[float, float]] = []
    for side in ("from", "to"):
        name, _, rest = connection[side].partition(".")
        component = components.get(name)
        if component is not None and component["port"] is not None and not rest:
            # A port of the model itself, drawn as a part.
            x1, y1, x2, y2 = component["extent"]
            connection["domain"] = component["port"]["domain"]
            ends.append(((x1 + x2) / 2, (y1 + y2) / 2))
            facings.append((1.0, 0.0) if component["port"]["direction"] == "in" else (-1.0, 0.0))
            continue
        port = next((p for p in component["icon"]["ports"] if p["name"] == rest.split(".")[0]), None) if component else None
        if port is not None and component is not None:
            connection["domain"] = port["domain"]
            if port["direction"]:
                connection["direction"] = "forward" if (port["direction"] == "out") == (side == "from") else "backward"
            at = port_position(component, port)
            ends.append(at)
            facings.append(facing(at, _box(component)))
        else:
            ends.append(None)
            facings.append((1.0, 0.0))
    points = connection["points"]
    if points and len(points) > 1:
        bent = [list(p) for p in points]
        for index, neighbour, end in ((0, 1, ends[0]), (-1, -2, ends[1])):
            if end is None:
                continue
            moved = bent[index]
            if len(bent) > 2:  # keep the corner next to the end at a right angle
                along = 0 if abs(bent[neighbour][0] - moved[0]) < 1e-9 else 1
                bent[neighbour][along] = end[along]
            bent[index] = list(end)
        connection["points"] = _squared(bent)
    elif ends[0] and ends[1]:
        boxes = [_box(c) for c in components.values()]
        connection["points"] = route(ends[0], facings[0], ends[1], facings[1], boxes)
    else:
        connection["points"] = []


def _box(component: dict[str, Any]) -> tuple[float, float, float, float]:
    """Left, bottom, right and top of a part as it stands on the sheet."""
    x1, y1, x2, y2 = component["extent"]
    left, bottom, right, top = min(x1, x2), min(y1, y2), max(x1, x2), max(y1, y2)
    if round(component["rotation"] / 90) % 2:
        cx, cy, half_width, half_height = (left + right) / 2, (bottom + top) / 2, (top - bottom) / 2, (right - left) / 2
        return cx - half_width, cy - half_height, cx + half_width, cy + half_height
    return left, bottom, right, top


def _squared(bent: list[list[float]]) -> list[list[float]]:
    """Insert corners where two points are neither level nor plumb."""
    result = [bent[0]]
    for point in bent[1:]:
        last = result[-1]
        if abs(point[0] - last[0]) > 1e-9 and abs(point[1] - last[1]) > 1e-9:
            middle = (point[0] + last[0]) / 2
            result += [[middle, last[1]], [middle, point[1]]]
        result.append(point)
    return result


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
