"""The watch board of a model: what is looked at while it runs, on a grid; ``__Movrel(board={Tile(…), …})``."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal, TypeAlias, get_args

from annotated_types import Ge, IsFinite, Le, MaxLen

from movrel.language.class_annotation import quoted
from movrel.model import annotation as note
from movrel.model.annotation import VENDOR
from movrel.model.classes import Definition

#: What a tile shows. A knob turns a parameter while the model runs.
TileKind: TypeAlias = Literal[
    "strip", "instrument", "number", "lamp", "bar", "table", "text", "knob"
]
#: Columns of the grid, and most rows.
COLUMNS, ROWS = 12, 200
_Cell: TypeAlias = Annotated[int, Ge(0), Le(ROWS)]
_Name: TypeAlias = Annotated[str, MaxLen(400)]
Bound: TypeAlias = IsFinite[float]


@dataclass(frozen=True, slots=True)
class Tile:
    """One thing on the board, on cells ``x`` to ``x + width`` and ``y`` to ``y + height`` of the grid.

    ``names`` are variables (of a knob, the parameter); ``low`` and ``high`` the ends of a scale in the unit shown,
    ``good`` the bounds of what is well within it; a lamp lights where its value is above ``low``.
    """

    kind: TileKind
    x: _Cell
    y: _Cell
    width: _Cell
    height: _Cell
    names: Annotated[list[_Name], MaxLen(20)] = field(default_factory=list)
    title: Annotated[str, MaxLen(200)] = ""
    low: Bound | None = None
    high: Bound | None = None
    good: Annotated[list[Bound], MaxLen(2)] = field(default_factory=list)
    text: Annotated[str, MaxLen(5000)] = ""


def board_of(definition: Definition) -> list[Tile]:
    """The tiles of a model; what cannot be read is passed over."""
    given = note.members(note.find(definition.node.annotation, VENDOR)).get("board")
    tiles = [_tile(item) for item in (given if isinstance(given, list) else [])]
    return [t for t in tiles if t is not None]


def _tile(item: Any) -> Tile | None:
    if (
        not isinstance(item, dict)
        or item.get("is") != "Tile"
        or item.get("kind") not in get_args(TileKind)
    ):
        return None
    at = item.get("at")
    if not isinstance(at, list) or len(at) != 4 or not all(isinstance(v, float) for v in at):
        return None
    x, y, width, height = (int(v) for v in at)
    names, good = item.get("names"), item.get("good")
    low, high = item.get("low"), item.get("high")

    def words(name: str) -> str:
        value = item.get(name)
        return value if isinstance(value, str) else ""

    return Tile(
        item["kind"],
        x,
        y,
        width,
        height,
        [n for n in names if isinstance(n, str)] if isinstance(names, list) else [],
        words("title"),
        low if isinstance(low, float) else None,
        high if isinstance(high, float) else None,
        [g for g in good if isinstance(g, float)] if isinstance(good, list) else [],
        words("text"),
    )


def board_text(tiles: list[Tile]) -> str | None:
    """The tiles as they are written; None for none."""
    return "{" + ",\n      ".join(map(_tile_text, tiles)) + "}" if tiles else None


def _tile_text(t: Tile) -> str:
    parts = [f"kind={quoted(t.kind)}", f"at={{{t.x}, {t.y}, {t.width}, {t.height}}}"]
    if t.names:
        parts.append(f"names={{{', '.join(map(quoted, t.names))}}}")
    for name, words in (("title", t.title), ("text", t.text)):
        if words:
            parts.append(f"{name}={quoted(words)}")
    for name, bound in (("low", t.low), ("high", t.high)):
        if bound is not None:
            parts.append(f"{name}={bound:.15g}")
    if t.good:
        parts.append(f"good={{{', '.join(f'{g:.15g}' for g in t.good)}}}")
    return f"Tile({', '.join(parts)})"
