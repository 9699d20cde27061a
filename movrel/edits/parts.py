"""Parts of a sheet: they come, move, get other names and go."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Annotated, Literal, TypeAlias

from annotated_types import Len, MaxLen

from movrel.analyse.claim_text import renamed
from movrel.edits.part_values import modification_of, named_values, with_values
from movrel.edits.port_order import rename_where_used
from movrel.edits.ports import WiredPort, misfit, plain, ports_of, with_place_on_symbol
from movrel.edits.target import (
    Coordinate,
    Edited,
    Name,
    Target,
    check_reach,
    listed,
)
from movrel.edits.wires import WireEnds
from movrel.errors import EditFault, LookupFault
from movrel.language import class_annotation, edit_class
from movrel.language import syntax as s
from movrel.language.edit_wires import bend_connection, delete_connection, port_text
from movrel.language.names import free_name
from movrel.language.patch import Patch, apply
from movrel.language.tree_search import component, references, strings
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, reach
from movrel.model.flatten import RUNNABLE
from movrel.sheet.drawing import sheet, wire_points
from movrel.sheet.symbols import icon, placement_of
from movrel.sheet.wiring import end_of

ValueText: TypeAlias = Annotated[str, MaxLen(2000)]

#: Width of a new part on the sheet, in units of the drawing; the height follows from its symbol.
PART_WIDTH = 40.0
#: What signals of a model are called that come in and go out.
PORT_NAMES = {"Movrel.Signals.SignalIn": "u", "Movrel.Signals.SignalOut": "y"}


@dataclass(frozen=True, slots=True)
class Insert:
    """Put a part with its middle at a point, perhaps into a wire, perhaps with values as they are typed into its rows.

    A value without a name is that of the parameter that the part is known by.
    """

    class_name: Name
    x: Coordinate
    y: Coordinate
    into: WireEnds | None = None
    values: Annotated[dict[Name, ValueText], MaxLen(50)] = field(default_factory=dict)
    do: Literal["insert"] = "insert"

    def apply(self, target: Target) -> Edited:
        if not self.values:
            return self._insert(target)
        definition = insertable(target.tree, target.qualified, self.class_name)
        typed = named_values(target.tree, definition, self.values)
        given = ", ".join(f"{p} = {t}" for p, t in typed.items())
        try:
            # By itself a part is judged at once, however large the model is.
            inserted = self._insert(target, modification_of(target, definition, typed))
            return replace(inserted, summary=f"{inserted.summary} with {given}")
        except LookupFault:
            inserted = self._insert(target)  # a value names something of the model
        (name,) = inserted.inserted
        now = target.after(apply(target.source.text, inserted.patches))
        text = with_values(now, name, typed).source.text
        return Edited(target.rewritten(text), f"{inserted.summary} with {given}", [name])

    def _insert(self, target: Target, modification: str = "") -> Edited:
        definition = insertable(target.tree, target.qualified, self.class_name)
        x1, y1, x2, y2 = icon(target.tree, definition).extent
        width = PART_WIDTH if definition.node.kind != "connector" else PART_WIDTH / 2
        height = width * abs(y2 - y1) / (abs(x2 - x1) or 1.0)
        is_port = definition.node.kind == "connector"
        name = _name_of_new(target, definition)
        corners = (
            (self.x - width / 2, self.y - height / 2),
            (self.x + width / 2, self.y + height / 2),
        )
        check_reach([*corners[0], *corners[1]])
        written = reach(definition.qualified, target.qualified)
        place = edit_class.placement(corners)
        if is_port:
            own = icon(target.tree, target.definition)
            direction = "in" if "input" in definition.node.base_prefixes else ""
            place = with_place_on_symbol(place, own, direction)
        prefixes = note.text_of(definition.node.annotation, "defaultComponentPrefixes")
        patches = edit_class.insert_component(
            target.source, target.cls, f"{prefixes} {written}".strip(), name, place, modification
        )
        if self.into is None:
            return Edited(patches, f"inserted {name}", [name])
        text, words = _into_wire(target, patches, definition, self.into.pair(), name)
        return Edited(target.rewritten(text), words, [name])


def _name_of_new(target: Target, definition: Definition) -> str:
    """What a new part is called. What others look for by its name is there once."""
    own = note.text_of(definition.node.annotation, "defaultComponentName")
    name = free_name(target.cls, own or PORT_NAMES.get(definition.qualified, definition.qualified))
    if (
        own
        and own != name
        and "inner" in note.text_of(definition.node.annotation, "defaultComponentPrefixes")
    ):
        raise EditFault(
            f"the model has a part '{own}' already.",
            hint="Set its rows; a circuit of its own goes into an assembly with one of its own.",
        )
    return name


def _into_wire(
    target: Target, patches: list[Patch], definition: Definition, old: tuple[str, str], name: str
) -> tuple[str, str]:
    """The text in which a part also takes the place of a wire, and what happened in words."""
    joins = _through(target, definition, old, name)
    text = apply(target.source.text, patches + delete_connection(target.source, target.cls, *old))
    source, cls = target.again(text)
    lines = [f"connect({a}, {b});" for a, b in joins]
    text = apply(text, edit_class.insert_equations(source, cls, lines))
    return text, f"inserted {name} into the wire of {old[0]} and {old[1]}"


def insertable(tree: ClassTree, qualified: str, class_name: str) -> Definition:
    """The class of a new part. Raises :class:`EditFault` for what can be none."""
    definition = tree.find(class_name)
    if definition is None or definition.predefined:
        raise EditFault(
            f"there is no class '{class_name}' to insert.", hint="Choose one from the shelf."
        )
    if definition.node.kind not in (*RUNNABLE, "connector") or definition.node.partial:
        reason = "partial" if definition.node.partial else f"a {definition.node.kind}"
        raise EditFault(f"'{class_name}' cannot be a part: it is {reason}.")
    if definition.qualified == qualified or qualified.startswith(definition.qualified + "."):
        raise EditFault("a model cannot hold itself.")
    return definition


def _through(
    target: Target, definition: Definition, wire: tuple[str, str], name: str
) -> list[tuple[str, str]]:
    """The two wires that lead through a new part, from the old wire's first end to its second."""
    wired = ports_of(target.tree, sheet(target.tree, target.definition))
    ends = [wired.get(plain(end)) for end in wire]
    ports = icon(target.tree, definition).ports
    for first in ports:
        for second in ports:
            if first is second:
                continue
            pairs = ((ends[0], WiredPort(first), wire[0]), (ends[1], WiredPort(second), wire[1]))
            if all(misfit(end, port, old, "the new part") == "" for end, port, old in pairs):
                return [(wire[0], f"{name}.{first.name}"), (f"{name}.{second.name}", wire[1])]
    raise EditFault(
        f"{definition.name} has no two ports that fit between '{wire[0]}' and '{wire[1]}'.",
        hint="Put it beside the wire and connect it by hand.",
    )


@dataclass(frozen=True, slots=True)
class PartPlace:
    """Where a part is to lie: its corners and its turn in degrees."""

    name: Name
    extent: Annotated[list[Coordinate], Len(4, 4)]
    rotation: float = 0.0


@dataclass(frozen=True, slots=True)
class Move:
    """Put parts somewhere else, together; bends of wires between parts that move alike move with them.

    ``straighten`` forgets all bends, so that every wire finds its way anew. A single part can go ``into`` a wire.
    """

    places: Annotated[list[PartPlace], Len(1, 5000)]
    #: The word for what was done.
    what: Literal["moved", "turned", "mirrored", "aligned", "distributed", "arranged the sheet"] = (
        "moved"
    )
    straighten: bool = False
    into: WireEnds | None = None
    do: Literal["move"] = "move"

    def apply(self, target: Target) -> Edited:
        patches: list[Patch] = []
        shifts = _shifts(target, self.places)
        for place in self.places:
            check_reach(place.extent)
            x1, y1, x2, y2 = place.extent
            text = edit_class.placement(((x1, y1), (x2, y2)), place.rotation % 360)
            patches += edit_class.place_component(target.source, target.cls, place.name, text)
        for equation in target.cls.equations:
            if not isinstance(equation, s.Connect) or (points := wire_points(equation)) is None:
                continue
            left, right = (port_text(target.source, e) for e in (equation.left, equation.right))
            a, b = (shifts.get(end_of(e)[0]) for e in (left, right))
            if self.straighten:
                patches += bend_connection(target.source, target.cls, left, right, None)
            elif a is not None and a == b and any(a):
                moved = [(p[0] + a[0], p[1] + a[1]) for p in points]
                patches += bend_connection(target.source, target.cls, left, right, moved)
        if self.into is not None:
            (name,) = (place.name for place in self.places[:1])
            definition = class_of(target.tree, target.definition, component(target.cls, name))
            assert definition is not None
            text, words = _into_wire(target, patches, definition, self.into.pair(), name)
            return Edited(target.rewritten(text), words)
        names = listed([place.name for place in self.places])
        return Edited(
            patches, self.what if self.what.startswith("arranged") else f"{self.what} {names}"
        )


def _shifts(target: Target, places: list[PartPlace]) -> dict[str, tuple[float, float]]:
    """How far each part moves that only moves."""
    nodes = {e.name: e for e in target.cls.elements if isinstance(e, s.Component)}
    shifts = {}
    for place in places:
        before = placement_of(nodes[place.name]) if place.name in nodes else None
        if before is not None and before.rotation % 360 == place.rotation % 360:
            dx, dy = place.extent[0] - before.extent[0], place.extent[1] - before.extent[1]
            if (
                abs(place.extent[2] - before.extent[2] - dx) < 1e-6
                and abs(place.extent[3] - before.extent[3] - dy) < 1e-6
            ):
                shifts[place.name] = (dx, dy)
    return shifts


@dataclass(frozen=True, slots=True)
class Delete:
    """Take parts, with their wires, and single wires off the sheet."""

    parts: Annotated[list[Name], MaxLen(5000)] = field(default_factory=list)
    wires: Annotated[list[WireEnds], MaxLen(5000)] = field(default_factory=list)
    cut: bool = False
    do: Literal["delete"] = "delete"

    def apply(self, target: Target) -> Edited:
        # One after the other, as a wire may go with a part that goes too.
        text = target.source.text
        for wire in self.wires:
            source, cls = target.again(text)
            text = apply(text, delete_connection(source, cls, *wire.pair()))
        for name in _users_first(target.cls, self.parts):
            source, cls = target.again(text)
            text = apply(text, edit_class.delete_component(source, cls, name))
        names = [*self.parts, *(f"the wire of {w.from_port} and {w.to_port}" for w in self.wires)]
        return Edited(target.rewritten(text), f"{'cut' if self.cut else 'deleted'} {listed(names)}")


def _users_first(cls: s.ClassDef, parts: list[str]) -> list[str]:
    """Parts whose declarations use others come before these, so that all can go together."""
    nodes = {name: component(cls, name) for name in parts}
    ordered: list[str] = []

    def visit(name: str, depth: int = 0) -> None:
        if name in ordered or depth > len(parts):
            return
        for other, node in nodes.items():
            if other != name and any(True for _ in references(node.modification, name)):
                visit(other, depth + 1)
        ordered.append(name)

    for name in parts:
        visit(name)
    return ordered


@dataclass(frozen=True, slots=True)
class Rename:
    """Give a part another name: in declarations, equations and wires, claims, scenarios and prepared strips."""

    name: Name
    new: Name
    do: Literal["rename"] = "rename"

    def apply(self, target: Target) -> Edited:
        new = self.new.strip()
        patches = edit_class.rename_component(target.source, target.cls, self.name, new)
        vendor = note.find(target.cls.annotation, VENDOR)
        for node in strings(vendor) if vendor is not None else ():
            text = renamed(node.value, self.name, new)
            if text != node.value:
                patches.append(Patch(node.start, node.end, class_annotation.quoted(text)))
        if new != self.name and any(
            port.name == self.name for port in icon(target.tree, target.definition).ports
        ):
            patches += rename_where_used(target, self.name, new)
        return Edited(patches, f"renamed {self.name} → {new}", [new])
