"""The symbol of a class: its graphics with those of its bases beneath, and where its ports sit."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from movrel.language import syntax as s
from movrel.model import annotation as note
from movrel.model.classes import LIBRARY_FOLDER, ClassTree, Definition
from movrel.model.declared import components, lineage
from movrel.model.expression import Scalar
from movrel.sheet.conditions import holds, own_value, written_value
from movrel.sheet.elements import Icon, Placement, Port, Shape

DEFAULT_EXTENT = [-100.0, -100.0, 100.0, 100.0]
_SHAPES = ("Line", "Polygon", "Rectangle", "Ellipse", "Text")
_library_icons: dict[str, Icon] = {}


def icon(tree: ClassTree, definition: Definition, node: s.Component | None = None) -> Icon:
    """The symbol of a class.

    Ports that exist under a condition are shown as the defaults say, or as those of the component ``node``.
    """
    whole = whole_icon(tree, definition)
    return without(whole, absent_ports(tree, definition, node, whole))


def without(whole: Icon, absent: set[str]) -> Icon:
    """A symbol that lacks some of its ports."""
    return (
        replace(whole, ports=[p for p in whole.ports if p.name not in absent]) if absent else whole
    )


def absent_ports(
    tree: ClassTree, definition: Definition, node: s.Component | None, whole: Icon
) -> set[str]:
    """The names of the ports whose condition does not hold."""
    if not any(p.condition for p in whole.ports):
        return set()
    declared = {c.name: c for _, c in components(tree, definition)}

    def value_of(name: str) -> Scalar | None:
        try:
            return written_value(node, name) if node is not None else own_value(declared[name])
        except KeyError:
            return own_value(declared[name])

    return {
        p.name
        for p in whole.ports
        if p.condition and not holds(declared[p.name].condition, value_of)
    }


def whole_icon(tree: ClassTree, definition: Definition) -> Icon:
    """The symbol with every port that the class may have."""
    if tree.library != LIBRARY_FOLDER or not definition.source.file.startswith("library/"):
        return _icon(tree, definition)
    # The component library does not change while the program runs.
    kept = _library_icons.get(definition.qualified)
    if kept is None:
        kept = _library_icons[definition.qualified] = _icon(tree, definition)
    return kept


def of_library(definition: Definition, symbol: Icon) -> bool:
    """Whether a symbol is the one that is kept of a class of the component library."""
    return symbol is _library_icons.get(definition.qualified)


def _icon(tree: ClassTree, definition: Definition) -> Icon:
    extent: list[float] = []
    graphics: list[Shape] = []
    ports: list[Port] = []
    for owner in lineage(tree, definition):
        drawn = layer(owner, "Icon")
        graphics += drawn.graphics
        if drawn.given:
            extent = drawn.extent
        connectors: dict[str, bool] = {}
        for element in owner.node.elements:
            if isinstance(element, s.Component) and not element.protected:
                name = element.type_name
                if name not in connectors:
                    kind = tree.lookup(name, owner)
                    connectors[name] = kind is not None and tree.is_kind(kind, "connector")
                port = port_of(tree, owner, element) if connectors[name] else None
                if port is not None:
                    ports.append(port)
    return Icon(extent or DEFAULT_EXTENT, graphics, _placed(ports, extent or DEFAULT_EXTENT))


def _placed(ports: list[Port], extent: list[float]) -> list[Port]:
    """Ports that nobody placed: inputs on the left, outputs on the right, physical ones on either side in turn."""
    left, right = min(extent[0], extent[2]), max(extent[0], extent[2])
    bottom, top = min(extent[1], extent[3]), max(extent[1], extent[3])
    sides: dict[str, list[str]] = {"left": [], "right": []}
    physical = 0
    for port in ports:
        if port.extent:
            continue
        if port.direction:
            side = "left" if port.direction == "in" else "right"
        else:
            side = "right" if physical % 2 else "left"
            physical += 1
        sides[side].append(port.name)
    places: dict[str, list[float]] = {}
    for side, x in (("left", left), ("right", right)):
        for i, name in enumerate(sides[side]):
            y = top - (top - bottom) * (i + 1) / (len(sides[side]) + 1)
            places[name] = [x - 10.0, y - 10.0, x + 10.0, y + 10.0]
    return [p if p.extent else replace(p, extent=places[p.name]) for p in ports]


@dataclass(frozen=True, slots=True)
class Layer:
    """One layer of graphics of a class; ``given`` when the class says how large it is."""

    extent: list[float]
    graphics: list[Shape]
    given: bool


def layer(definition: Definition, name: str) -> Layer:
    """The layer ``Icon`` or ``Diagram`` of a class itself."""
    members = note.members(note.find(definition.node.annotation, name))
    system = members.get("coordinateSystem")
    extent = flat_extent(system.get("extent")) if isinstance(system, dict) else None
    written = members.get("graphics") or []
    graphics = [
        shape | {"index": i}
        for i, shape in enumerate(written)
        if isinstance(shape, dict) and shape["is"] in _SHAPES
    ]
    dynamic = _dynamic_parts(definition, name)
    for i, shape in enumerate(graphics):
        if i in dynamic:
            shape["dynamic"] = dynamic[i]
    return Layer(extent or DEFAULT_EXTENT, graphics, extent is not None)


def _dynamic_parts(definition: Definition, name: str) -> dict[int, dict[str, Any]]:
    """For each shape the attributes that DynamicSelect makes move, as expressions in plain data."""
    parts: dict[int, dict[str, Any]] = {}
    written = note.find(definition.node.annotation, name)
    if written is None or written.modification is None:
        return parts
    for argument in written.modification.arguments:
        if not (
            isinstance(argument, s.Modify) and argument.name == "graphics" and argument.modification
        ):
            continue
        shapes = argument.modification.value
        drawn = (
            [x for x in shapes.items if isinstance(x, s.Call) and x.name in _SHAPES]
            if isinstance(shapes, s.Array)
            else []
        )
        for i, shape in enumerate(drawn):
            for named in shape.named:
                if (
                    isinstance(named.value, s.Call)
                    and named.value.name == "DynamicSelect"
                    and len(named.value.arguments) == 2
                ):
                    parts.setdefault(i, {})[named.name] = as_data(named.value.arguments[1])
    return parts


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


def flat_extent(value: Any) -> list[float] | None:
    """``{{x1, y1}, {x2, y2}}`` as ``[x1, y1, x2, y2]``, or None for anything else."""
    if (
        isinstance(value, list)
        and len(value) == 2
        and all(isinstance(p, list) and len(p) == 2 for p in value)
    ):
        numbers = [*value[0], *value[1]]
        if all(isinstance(n, float) for n in numbers):
            return numbers
    return None


def placement_of(node: s.Component, on_symbol: bool = False) -> Placement | None:
    """Where a component lies as its Placement says, on the sheet or, for a port, on the symbol."""
    comment = node.comment
    members = note.members(note.find(comment.annotation if comment else None, "Placement"))
    transformation = members.get("iconTransformation") if on_symbol else None
    transformation = transformation or members.get("transformation")
    if not isinstance(transformation, dict):
        return None
    extent = flat_extent(transformation.get("extent"))
    if extent is None:
        return None
    origin = transformation.get("origin")
    if isinstance(origin, list) and len(origin) == 2:
        extent = [
            extent[0] + origin[0],
            extent[1] + origin[1],
            extent[2] + origin[0],
            extent[3] + origin[1],
        ]
    rotation = transformation.get("rotation")
    return Placement(extent, rotation if isinstance(rotation, float) else 0.0)


def domain_of(tree: ClassTree, definition: Definition) -> str:
    """The domain of a connector class, which decides how its wires are drawn."""
    for owner in reversed(lineage(tree, definition)):
        given = note.members(note.find(owner.node.annotation, note.VENDOR)).get("domain")
        if isinstance(given, str):
            return given
    return "signal" if definition.node.base_prefixes else "other"


def port_of(tree: ClassTree, owner: Definition, node: s.Component) -> Port | None:
    """The port that a component is, if its class is a connector; its extent is empty where nobody placed it."""
    kind = tree.lookup(node.type_name, owner)
    if kind is None or not tree.is_kind(kind, "connector"):
        return None
    placed = placement_of(node, on_symbol=True)
    # The outer direction counts; the sheet of the model itself sees it from the other side.
    prefixes = (*node.prefixes, *kind.node.base_prefixes)
    return Port(
        name=node.name,
        class_name=kind.qualified,
        domain=domain_of(tree, kind),
        direction="in" if "input" in prefixes else "out" if "output" in prefixes else "",
        extent=placed.extent if placed else [],
        array="".join(
            owner.source.slice(x) + ", " for x in (*node.type_subscripts, *node.subscripts)
        )[:-2],
        rotation=placed.rotation if placed else 0.0,
        description=node.comment.text if node.comment else "",
        condition=owner.source.slice(node.condition) if node.condition is not None else "",
    )
