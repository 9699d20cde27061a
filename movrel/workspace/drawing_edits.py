"""Notes on a sheet and the symbol of an assembly."""

from __future__ import annotations

import math
from typing import Any

from movrel.errors import EditFault
from movrel.language import class_annotation, edit_class
from movrel.language.patch import Patch
from movrel.workspace.editing import Target, check_reach, edit
from movrel.workspace.tables import Revision

#: Size of a line of a note, and the width of a character, in units of the drawing.
LINE, CHARACTER = 8.0, 3.6
_INK = "lineColor={40,44,60}"
_FILL = "fillColor={255,255,255}, fillPattern=FillPattern.Solid"


def note_text(text: str, x: float, y: float) -> str:
    """The shape of a note whose upper left corner lies at a point."""
    check_reach([x, y, x, y])
    lines = text.rstrip().split("\n")
    width = max(40.0, CHARACTER * max(len(line) for line in lines))
    x2, y2 = x + width, y - LINE * len(lines)
    return (
        f"Text(extent={{{{{x:g},{y:g}}},{{{x2:g},{y2:g}}}}}, textString={class_annotation.quoted(text.rstrip())}, "
        "horizontalAlignment=TextAlignment.Left)"
    )


def add_note(project: int, qualified: str, revision: int, text: str, x: float, y: float) -> Revision:
    """Write something on the sheet."""
    _check_note(text)
    shape = note_text(text, x, y)
    return edit(
        project, qualified, revision,
        lambda at: (class_annotation.set_shape(at.source, at.cls, "Diagram", None, shape), f"noted '{_start(text)}'"),
    )  # fmt: skip


def change_note(project: int, qualified: str, revision: int, index: int, text: str | None, x: float, y: float) -> Revision:
    """Change a note's text or place; no text takes it away."""

    def make(at: Target) -> tuple[list[Patch], str]:
        shapes = class_annotation.graphics(at.source, at.cls, "Diagram")
        if not 0 <= index < len(shapes) or not shapes[index][1].startswith("Text"):
            raise EditFault("this note is not there any more.", hint="Look at the newest state.")
        if text is None:
            return class_annotation.set_shape(at.source, at.cls, "Diagram", index, None), "deleted a note"
        _check_note(text)
        shape = note_text(text, x, y)
        return class_annotation.set_shape(at.source, at.cls, "Diagram", index, shape), f"changed the note '{_start(text)}'"

    return edit(project, qualified, revision, make)


def _check_note(text: str) -> None:
    if not text.strip():
        raise EditFault("the note is empty.", hint="Type something, or press Escape.")


def _start(text: str) -> str:
    first = text.strip().split("\n")[0]
    return first if len(first) <= 30 else first[:29] + "…"


def set_symbol(project: int, qualified: str, revision: int, shapes: list[dict[str, Any]]) -> Revision:
    """Draw the symbol of a model anew from simple shapes.

    Each has ``is`` (Rectangle, Ellipse, Line, Polygon or Text), ``points`` (two corners, or the line)
    in the coordinates of the symbol (-100 to 100), for texts ``text``, and ``filled``.
    """
    texts = [_shape(shape) for shape in shapes]
    body = "{\n      " + ",\n      ".join(texts) + "}" if texts else "{}"
    return edit(
        project, qualified, revision,
        lambda at: (class_annotation.set_annotation(at.source, at.cls, ["Icon", "graphics"], body), "drew the symbol"),
    )  # fmt: skip


def _shape(shape: dict[str, Any]) -> str:
    kind, points = shape["is"], shape["points"]
    if len(points) < 2 or not all(math.isfinite(v) and abs(v) <= 400 for p in points for v in p):
        raise EditFault("a shape of the symbol lies too far out.")
    text = "{" + ",".join(f"{{{x:g},{y:g}}}" for x, y in points) + "}"
    fill = f", {_FILL}" if shape.get("filled") else ""
    if kind in ("Rectangle", "Ellipse"):
        return f"{kind}(extent={text}, {_INK}{fill})"
    if kind == "Line":
        return f"Line(points={text}, color={{40,44,60}})"
    if kind == "Polygon":
        return f"Polygon(points={text}, {_INK}{fill})"
    if kind == "Text":
        return f"Text(extent={text}, textString={class_annotation.quoted(shape.get('text') or '%name')})"
    raise EditFault(f"'{kind}' is no shape of a symbol.")


def place_port(project: int, qualified: str, revision: int, name: str, x: float, y: float) -> Revision:
    """Put a port somewhere else on the symbol."""
    if not (-120 <= x <= 120 and -120 <= y <= 120):
        raise EditFault("a port must lie on the symbol or its border.")
    corners = (x - 10, y - 10), (x + 10, y + 10)
    return edit(
        project, qualified, revision,
        lambda at: (edit_class.place_on_symbol(at.source, at.cls, name, corners), f"moved the port {name} on the symbol"),
    )  # fmt: skip
