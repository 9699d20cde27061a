"""Notes on a sheet, and the symbol of an assembly."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Len, MaxLen

from movrel.edits.target import Coordinate, Corner, Edited, Name, Target, check_reach
from movrel.errors import EditFault
from movrel.language import class_annotation, edit_class

#: Size of a line of a note, and the width of a character, in units of the drawing.
LINE, CHARACTER = 8.0, 3.6
_INK = "lineColor={40,44,60}"
_FILL = "fillColor={255,255,255}, fillPattern=FillPattern.Solid"


def note_shape(text: str, x: float, y: float) -> str:
    """The shape of a note whose upper left corner lies at a point. Raises :class:`EditFault` when it is empty."""
    if not text.strip():
        raise EditFault("the note is empty.", hint="Type something, or press Escape.")
    check_reach([x, y, x, y])
    lines = text.rstrip().split("\n")
    width = max(40.0, CHARACTER * max(len(line) for line in lines))
    x2, y2 = x + width, y - LINE * len(lines)
    return (
        f"Text(extent={{{{{x:g},{y:g}}},{{{x2:g},{y2:g}}}}}, textString={class_annotation.quoted(text.rstrip())}, "
        "horizontalAlignment=TextAlignment.Left)"
    )


@dataclass(frozen=True, slots=True)
class AddNote:
    """Write something on the sheet."""

    text: Annotated[str, MaxLen(20_000)]
    x: Coordinate
    y: Coordinate
    do: Literal["note"] = "note"

    def apply(self, target: Target) -> Edited:
        shape = note_shape(self.text, self.x, self.y)
        patches = class_annotation.set_shape(target.source, target.cls, "Diagram", None, shape)
        return Edited(patches, f"noted '{_beginning(self.text)}'")


@dataclass(frozen=True, slots=True)
class ChangeNote:
    """Another text or place for a note; no text takes it away."""

    index: int
    x: Coordinate
    y: Coordinate
    text: Annotated[str, MaxLen(20_000)] | None = None
    do: Literal["change note"] = "change note"

    def apply(self, target: Target) -> Edited:
        shapes = class_annotation.graphics(target.source, target.cls, "Diagram")
        if not 0 <= self.index < len(shapes) or not shapes[self.index][1].startswith("Text"):
            raise EditFault("this note is not there any more.", hint="Look at the newest state.")
        shape = note_shape(self.text, self.x, self.y) if self.text is not None else None
        patches = class_annotation.set_shape(
            target.source, target.cls, "Diagram", self.index, shape
        )
        return Edited(
            patches,
            "deleted a note"
            if self.text is None
            else f"changed the note '{_beginning(self.text)}'",
        )


def _beginning(text: str) -> str:
    first = text.strip().split("\n")[0]
    return first if len(first) <= 30 else first[:29] + "…"


@dataclass(frozen=True, slots=True)
class SymbolShape:
    """A simple shape: two corners or the points of a line in the coordinates of the symbol (-100 to 100)."""

    form: Literal["Rectangle", "Ellipse", "Line", "Polygon", "Text"]
    points: Annotated[list[Corner], Len(2, 200)]
    text: Annotated[str, MaxLen(200)] = ""
    filled: bool = False

    def clause(self) -> str:
        """The shape as the standard's graphics has it."""
        if len(self.points) < 2 or not all(
            math.isfinite(v) and abs(v) <= 400 for p in self.points for v in p
        ):
            raise EditFault("a shape of the symbol lies too far out.")
        points = "{" + ",".join(f"{{{x:g},{y:g}}}" for x, y in self.points) + "}"
        fill = f", {_FILL}" if self.filled else ""
        match self.form:
            case "Rectangle" | "Ellipse":
                return f"{self.form}(extent={points}, {_INK}{fill})"
            case "Line":
                return f"Line(points={points}, color={{40,44,60}})"
            case "Polygon":
                return f"Polygon(points={points}, {_INK}{fill})"
            case "Text":
                return f"Text(extent={points}, textString={class_annotation.quoted(self.text or '%name')})"


@dataclass(frozen=True, slots=True)
class SetSymbol:
    """Draw the symbol of a model anew from simple shapes."""

    shapes: Annotated[list[SymbolShape], MaxLen(200)]
    do: Literal["symbol"] = "symbol"

    def apply(self, target: Target) -> Edited:
        clauses = [shape.clause() for shape in self.shapes]
        body = "{\n      " + ",\n      ".join(clauses) + "}" if clauses else "{}"
        patches = class_annotation.set_annotation(
            target.source, target.cls, ["Icon", "graphics"], body
        )
        return Edited(patches, "drew the symbol")


@dataclass(frozen=True, slots=True)
class PlacePort:
    """Put a port somewhere else on the symbol."""

    name: Name
    x: Coordinate
    y: Coordinate
    do: Literal["place port"] = "place port"

    def apply(self, target: Target) -> Edited:
        if not (-120 <= self.x <= 120 and -120 <= self.y <= 120):
            raise EditFault("a port must lie on the symbol or its border.")
        corners = (self.x - 10, self.y - 10), (self.x + 10, self.y + 10)
        patches = edit_class.place_on_symbol(target.source, target.cls, self.name, corners)
        return Edited(patches, f"moved the port {self.name} on the symbol")
