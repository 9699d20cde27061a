"""Parts copied, pasted and doubled."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Len

from movrel.edits import fragment
from movrel.edits.target import Coordinate, Edited, Name, Target, Text, listed


def copied(target: Target, parts: list[str]) -> str:
    """The text of parts and the wires between them, for the clipboard."""
    return fragment.copy(target.tree, target.definition, parts)


@dataclass(frozen=True, slots=True)
class Paste:
    """Put copied parts on the sheet, their middle at a point if one is given."""

    text: Text
    x: Coordinate | None = None
    y: Coordinate | None = None
    do: Literal["paste"] = "paste"

    def apply(self, target: Target) -> Edited:
        patches, names = fragment.paste(
            target.tree, target.definition, self.text, _shift_to(self.text, self.x, self.y)
        )
        return Edited(patches, f"pasted {listed(names)}" if names else "pasted values", names)


@dataclass(frozen=True, slots=True)
class Duplicate:
    """Put copies of parts beside them."""

    parts: Annotated[list[Name], Len(1, 2000)]
    dx: Coordinate
    dy: Coordinate
    do: Literal["duplicate"] = "duplicate"

    def apply(self, target: Target) -> Edited:
        patches, names = fragment.paste(
            target.tree, target.definition, copied(target, self.parts), (self.dx, self.dy)
        )
        return Edited(patches, f"duplicated {listed(self.parts)}", names)


def _shift_to(text: str, x: float | None, y: float | None) -> tuple[float, float]:
    """How far pasted parts move so that their common middle comes to lie at a point."""
    if x is None or y is None:
        return 0.0, 0.0
    placed = fragment.places(text)
    if not placed:
        return 0.0, 0.0
    xs, ys = [v for e in placed for v in (e[0], e[2])], [v for e in placed for v in (e[1], e[3])]
    middle = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    return 2.0 * round((x - middle[0]) / 2), 2.0 * round((y - middle[1]) / 2)
