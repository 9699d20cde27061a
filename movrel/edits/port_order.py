"""The ports of a model: on which side of its symbol each lies, in which order, and who uses them by name."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal, TypeAlias

from movrel.edits.target import Edited, Name, Target
from movrel.errors import EditFault
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.language.patch import Patch
from movrel.language.tree_search import references
from movrel.model.classes import ClassTree, Definition
from movrel.model.declared import class_of, loaded_classes
from movrel.sheet.elements import Icon, Port
from movrel.sheet.symbols import icon

Side: TypeAlias = Literal["left", "right", "top", "bottom"]

#: Distance of two ports on a side as long as all fit, and half the width of a port.
STEP, HALF = 40.0, 10.0


@dataclass(frozen=True, slots=True)
class ArrangePort:
    """Put a port on a side of the symbol, as the ``index``-th there: from above, or from the left.

    All ports of that side are spaced evenly about its middle.
    """

    name: Name
    side: Side
    index: int
    do: Literal["arrange port"] = "arrange port"

    def apply(self, target: Target) -> Edited:
        own = icon(target.tree, target.definition)
        by_side = sides(own)
        if not any(port.name == self.name for ports in by_side.values() for port in ports):
            raise EditFault(f"the model has no port '{self.name}'.")
        names = [port.name for port in by_side[self.side] if port.name != self.name]
        names.insert(max(0, min(self.index, len(names))), self.name)
        patches: list[Patch] = []
        for name, (x, y) in zip(names, _places(own, self.side, len(names)), strict=True):
            corners = (x - HALF, y - HALF), (x + HALF, y + HALF)
            patches += edit_class.place_on_symbol(target.source, target.cls, name, corners)
        return Edited(
            patches,
            f"put the port {self.name} on the {self.side} side, place {names.index(self.name) + 1}",
        )


def sides(symbol: Icon) -> dict[Side, list[Port]]:
    """The ports of a symbol by the side that they are nearest to, from above or from the left."""
    x1, y1, x2, y2 = symbol.extent
    by_side: dict[Side, list[Port]] = {"left": [], "right": [], "top": [], "bottom": []}
    for port in symbol.ports:
        x, y = _middle(port)
        distances: dict[Side, float] = {
            "left": abs(x - x1), "right": abs(x - x2), "top": abs(y - y2), "bottom": abs(y - y1)
        }  # fmt: skip
        by_side[min(distances, key=lambda side: distances[side])].append(port)
    for side, ports in by_side.items():
        across = side in ("top", "bottom")
        ports.sort(key=lambda port: _middle(port)[0] if across else -_middle(port)[1])
    return by_side


def _middle(port: Port) -> tuple[float, float]:
    x1, y1, x2, y2 = port.extent
    return (x1 + x2) / 2, (y1 + y2) / 2


def _places(symbol: Icon, side: Side, count: int) -> list[tuple[float, float]]:
    x1, y1, x2, y2 = symbol.extent
    length = abs(x2 - x1) if side in ("top", "bottom") else abs(y2 - y1)
    step = min(STEP, length / count)
    offsets = [(k - (count - 1) / 2) * step for k in range(count)]
    if side in ("top", "bottom"):
        return [((x1 + x2) / 2 + o, y2 if side == "top" else y1) for o in offsets]
    return [(x1 if side == "left" else x2, (y1 + y2) / 2 - o) for o in offsets]


def rename_where_used(target: Target, name: str, new: str) -> list[Patch]:
    """A port's new name wherever other classes of the file use it.

    Raises :class:`EditFault` where a class of another file does.
    """
    patches: dict[tuple[int, int], Patch] = {}
    for user, ref in _uses(target.tree, target.definition, name):
        if user.source.file != target.source.file:
            raise EditFault(
                f"{user.qualified} in {user.source.file} uses the port as '{ref.text}'.",
                hint="Rename it in the view Text, there and here.",
            )
        at = ref.parts[1].start
        patches[at, at + len(name)] = Patch(at, at + len(name), new)
    return list(patches.values())


def _uses(tree: ClassTree, definition: Definition, name: str) -> Iterator[tuple[Definition, s.Ref]]:
    """References ``part.name`` in loaded classes that have a part of this class."""
    for at in loaded_classes(tree):
        for element in at.node.elements:
            if isinstance(element, s.Component) and class_of(tree, at, element) is definition:
                for ref in references(at.node, element.name):
                    if len(ref.parts) > 1 and ref.parts[1].name == name:
                        yield at, ref
