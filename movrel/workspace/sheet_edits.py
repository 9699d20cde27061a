"""Building on the sheet: parts and wires come, move and go, each as a patch of the text."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from movrel.analyse.claims import renamed
from movrel.errors import EditFault
from movrel.language import class_annotation, edit_class
from movrel.language import syntax as s
from movrel.language.patch import Patch, apply
from movrel.model import annotation as note
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import reach
from movrel.model.drawing import icon, placement_of, sheet, wire_points
from movrel.model.flatten import RUNNABLE
from movrel.model.prepared import VENDOR
from movrel.model.wiring import end_of
from movrel.workspace.editing import Target, again, check_reach, edit, listed, target
from movrel.workspace.tables import Revision

#: Width of a new part on the sheet, in units of the drawing; the height follows from its symbol.
PART_WIDTH = 40.0

Wire = tuple[str, str]


@dataclass(frozen=True, slots=True)
class Place:
    """Where a part lies: its corners and its turn in degrees."""

    name: str
    extent: list[float]
    rotation: float = 0.0


def insert_part(
    project: int, qualified: str, revision: int, class_name: str, x: float, y: float, into: Wire | None = None
) -> tuple[Revision, str]:
    """Put a part of a class on the sheet with its middle at a point; gives the revision and its name.

    With ``into`` a wire is cut there and led through the part, if two of its ports fit the wire's ends.
    """
    found = target(project, qualified)
    definition = insertable(found.tree, qualified, class_name)
    x1, y1, x2, y2 = icon(found.tree, definition)["extent"]
    width = PART_WIDTH if definition.node.kind != "connector" else PART_WIDTH / 2
    height = width * abs(y2 - y1) / (abs(x2 - x1) or 1.0)
    name = ""

    def make(at: Target) -> tuple[str | list[Patch], str]:
        nonlocal name
        name = edit_class.free_name(at.cls, class_name)
        corners = (x - width / 2, y - height / 2), (x + width / 2, y + height / 2)
        check_reach([*corners[0], *corners[1]])
        written = reach(definition.qualified, qualified)
        patches = edit_class.insert_component(at.source, at.cls, written, name, edit_class.placement(corners))
        if into is None:
            return patches, f"inserted {name}"
        joins = _through(at, definition, into, name)
        text = apply(at.source.text, patches + edit_class.delete_connection(at.source, at.cls, *into))
        source, cls = again(at, text)
        lines = [f"connect({a}, {b});" for a, b in joins]
        return apply(
            text, edit_class.insert_equations(source, cls, lines)
        ), f"inserted {name} into the wire of {into[0]} and {into[1]}"

    return edit(project, qualified, revision, make), name


def insertable(tree: ClassTree, qualified: str, class_name: str) -> Definition:
    """The class of a new part. Raises :class:`EditFault` for what can be none."""
    found = tree.find(class_name)
    if found is None or found.predefined:
        raise EditFault(f"there is no class '{class_name}' to insert.", hint="Choose one from the shelf.")
    if found.node.kind not in (*RUNNABLE, "connector") or found.node.partial:
        raise EditFault(f"'{class_name}' cannot be a part: it is {'partial' if found.node.partial else f'a {found.node.kind}'}.")
    if found.qualified == qualified or qualified.startswith(found.qualified + "."):
        raise EditFault("a model cannot hold itself.")
    return found


def _through(at: Target, definition: Definition, wire: Wire, name: str) -> list[Wire]:
    """The two wires that lead through a new part, from the old wire's first end to its second."""
    known = ports_of(at.tree, sheet(at.tree, at.definition))
    ends = [known.get(_plain(end)) for end in wire]
    ports = icon(at.tree, definition)["ports"]
    for first in ports:
        for second in ports:
            if first is second:
                continue
            a, b = (p | {"outside": False} for p in (first, second))
            if all(misfit(e, p, w, "the new part") == "" for e, p, w in ((ends[0], a, wire[0]), (ends[1], b, wire[1]))):
                return [(wire[0], f"{name}.{first['name']}"), (f"{name}.{second['name']}", wire[1])]
    raise EditFault(
        f"{definition.name} has no two ports that fit between '{wire[0]}' and '{wire[1]}'.",
        hint="Put it beside the wire and connect it by hand.",
    )


def move_parts(
    project: int, qualified: str, revision: int, places: list[Place], what: str = "moved", straighten: bool = False
) -> Revision:
    """Put parts somewhere else, together; bends of wires between parts that move alike move with them.

    ``straighten`` forgets all bends, so that every wire finds its way anew.
    """

    def make(at: Target) -> tuple[list[Patch], str]:
        patches: list[Patch] = []
        shifts = _shifts(at, places)
        for place in places:
            check_reach(place.extent)
            x1, y1, x2, y2 = place.extent
            text = edit_class.placement(((x1, y1), (x2, y2)), place.rotation % 360)
            patches += edit_class.place_component(at.source, at.cls, place.name, text)
        for equation in at.cls.equations:
            if not isinstance(equation, s.Connect) or (points := wire_points(equation)) is None:
                continue
            left, right = (edit_class.port_text(at.source, e) for e in (equation.left, equation.right))
            a, b = (shifts.get(end_of(e)[0]) for e in (left, right))
            if straighten:
                patches += edit_class.bend_connection(at.source, at.cls, left, right, None)
            elif a is not None and a == b and any(a):
                moved = [(p[0] + a[0], p[1] + a[1]) for p in points]
                patches += edit_class.bend_connection(at.source, at.cls, left, right, moved)
        words = what if what.startswith("arranged") else f"{what} {listed([place.name for place in places])}"
        return patches, words

    return edit(project, qualified, revision, make)


def _shifts(at: Target, places: list[Place]) -> dict[str, tuple[float, float]]:
    """How far each part moves that only moves."""
    nodes = {e.name: e for e in at.cls.elements if isinstance(e, s.Component)}
    found = {}
    for place in places:
        before = placement_of(nodes[place.name]) if place.name in nodes else None
        if before is not None and before["rotation"] % 360 == place.rotation % 360:
            dx, dy = place.extent[0] - before["extent"][0], place.extent[1] - before["extent"][1]
            if abs(place.extent[2] - before["extent"][2] - dx) < 1e-6 and abs(place.extent[3] - before["extent"][3] - dy) < 1e-6:
                found[place.name] = (dx, dy)
    return found


def delete_things(
    project: int, qualified: str, revision: int, parts: list[str], wires: list[Wire], what: str = "deleted"
) -> Revision:
    """Take parts, with their wires, and single wires off the sheet."""

    def make(at: Target) -> tuple[str, str]:
        # One after the other, as a wire may go with a part that goes too.
        text = at.source.text
        for left, right in wires:
            source, cls = again(at, text)
            text = apply(text, edit_class.delete_connection(source, cls, left, right))
        for name in _users_first(at.cls, parts):
            source, cls = again(at, text)
            text = apply(text, edit_class.delete_component(source, cls, name))
        names = [*parts, *(f"the wire of {left} and {right}" for left, right in wires)]
        return text, f"{what} {listed(names)}"

    return edit(project, qualified, revision, make)


def _users_first(cls: s.ClassDef, parts: list[str]) -> list[str]:
    """Parts whose declarations use others come before these, so that all can go together."""
    nodes = {name: edit_class.component(cls, name) for name in parts}
    ordered: list[str] = []

    def visit(name: str, depth: int = 0) -> None:
        if name in ordered or depth > len(parts):
            return
        for other, node in nodes.items():
            if other != name and any(True for _ in edit_class.references(node.modification, name)):
                visit(other, depth + 1)
        ordered.append(name)

    for name in parts:
        visit(name)
    return ordered


def rename_part(project: int, qualified: str, revision: int, name: str, new: str) -> Revision:
    """Give a part another name: in declarations, equations and wires, claims, scenarios and prepared strips."""

    def make(at: Target) -> tuple[list[Patch], str]:
        patches = edit_class.rename_component(at.source, at.cls, name, new.strip())
        vendor = note.find(at.cls.annotation, VENDOR)
        for node in edit_class.strings(vendor) if vendor is not None else ():
            text = renamed(node.value, name, new.strip())
            if text != node.value:
                patches.append(Patch(node.start, node.end, class_annotation.quoted(text)))
        return patches, f"renamed {name} → {new.strip()}"

    return edit(project, qualified, revision, make)


def connect(
    project: int, qualified: str, revision: int, left: str, right: str, points: list[tuple[float, float]] | None = None
) -> Revision:
    """Wire two ports. Refused in words of the trade when they do not go together.

    An array port is given with the number of its element, ``mux.u[2]``. ``points`` are corners that
    were chosen by hand.
    """
    found = target(project, qualified)
    ports = ports_of(found.tree, sheet(found.tree, found.definition))
    if any(p["domain"] == "state" for end in (left, right) if (p := ports.get(_plain(end))) is not None):
        raise EditFault("states are joined by arrows, not by wires.", hint="Draw an arrow and say when it is taken.")
    refusal = misfit(ports.get(_plain(left)), ports.get(_plain(right)), left, right) or _misfit_of_elements(ports, left, right)
    if refusal:
        raise EditFault(refusal)

    def make(at: Target) -> tuple[str | list[Patch], str]:
        patches = edit_class.add_connection(at.source, at.cls, left, right)
        words = f"connected {left} and {right}"
        if not points:
            return patches, words
        text = apply(at.source.text, patches)
        source, cls = again(at, text)
        return apply(text, edit_class.bend_connection(source, cls, left, right, points)), words

    return edit(project, qualified, revision, make)


def bend_wire(
    project: int, qualified: str, revision: int, left: str, right: str, points: list[tuple[float, float]] | None
) -> Revision:
    """Lead a wire through corners chosen by hand, or let it find its way again."""
    for x, y in points or []:
        check_reach([x, y, x, y])
    done = "bent" if points else "straightened"
    return edit(
        project, qualified, revision,
        lambda at: (edit_class.bend_connection(at.source, at.cls, left, right, points), f"{done} the wire of {left} and {right}"),
    )  # fmt: skip


def misfit(a: dict[str, Any] | None, b: dict[str, Any] | None, left: str, right: str) -> str:
    """Why two ports cannot be connected, or nothing."""
    for port, name in ((a, left), (b, right)):
        if port is None:
            return f"there is no port '{name}'."
    assert a is not None and b is not None
    if a["direction"] and b["direction"]:
        ways = [seen_from_inside(a), seen_from_inside(b)]
        if ways[0] == ways[1]:
            word = "receive" if ways[0] == "in" else "give"
            return f"'{left}' and '{right}' both {word} a signal; connect an output with an input."
        return ""
    if a["class"] != b["class"] and (a["domain"] != b["domain"] or bool(a["direction"]) != bool(b["direction"])):
        return f"'{left}' is {_kind(a)} and '{right}' is {_kind(b)}; only ports of the same kind can be connected."
    return ""


def seen_from_inside(port: dict[str, Any]) -> str:
    """The direction of a signal at a port; an input of the model itself gives its signal to the parts inside."""
    given = str(port["direction"])
    return {"in": "out", "out": "in"}[given] if port["outside"] and given else given


def _misfit_of_elements(ports: dict[str, dict[str, Any]], left: str, right: str) -> str:
    """Refuse an array port against a single one, asking for the element."""
    whole = [bool(ports[_plain(e)]["array"]) and not e.endswith("]") for e in (left, right)]
    if whole[0] != whole[1]:
        name = left if whole[0] else right
        return f"'{name}' has several elements; say which one, such as {name}[1]."
    return ""


def _kind(port: dict[str, Any]) -> str:
    domain = port["domain"]
    if domain == "other":
        return f"a {port['class'].rpartition('.')[2]}"
    return f"{'an' if domain[0] in 'aeiou' else 'a'} {domain} port"


def _plain(end: str) -> str:
    """The name of a port without the numbers of elements."""
    part, port = end_of(end)
    return f"{part}.{port}" if port else part


def ports_of(tree: ClassTree, drawn: dict[str, Any]) -> dict[str, dict[str, Any]]:
    """Every port on a sheet by the name with which it is wired."""
    found: dict[str, dict[str, Any]] = {}
    for part in drawn["components"]:
        definition = tree.find(part["class"])
        if definition is not None and tree.is_kind(definition, "connector"):
            found[part["name"]] = part["port"] | {"outside": True}
        for port in part["icon"]["ports"]:
            found[f"{part['name']}.{port['name']}"] = port | {"outside": False}
    return found
