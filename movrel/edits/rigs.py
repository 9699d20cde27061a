"""Edits of a rig: how its units are coupled, many wires at once, and its watch board."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from annotated_types import Ge, Gt, IsFinite, Le, MaxLen, MinLen

from movrel.edits.target import Edited, Target
from movrel.edits.wires import MOST_PAIRS, Connect, WireEnds
from movrel.errors import EditFault
from movrel.language.class_annotation import set_annotation
from movrel.language.patch import apply
from movrel.model.annotation import VENDOR
from movrel.project.board import COLUMNS, Tile, board_text
from movrel.project.rig_settings import Inputs, Order, RigSettings, rig_text

#: Tiles of one board at most.
MOST_TILES = 60
Share = Annotated[float, IsFinite, Ge(0), Le(1)]


@dataclass(frozen=True, slots=True)
class CoupleUnits:
    """Couple the parts of a model as a rig: see :class:`RigSettings`; ``step`` in s."""

    step: Annotated[float, IsFinite, Gt(0)]
    order: Order = "parallel"
    inputs: Inputs = "held"
    loops: Share = 1e-8
    error: Share = 0.0
    pace: Annotated[float, IsFinite, Ge(0)] = 0.0
    multiples: Annotated[
        dict[Annotated[str, MaxLen(400)], Annotated[int, Ge(1), Le(10_000)]], MaxLen(1000)
    ] = field(default_factory=dict)
    do: Literal["couple"] = "couple"

    def apply(self, target: Target) -> Edited:
        settings = RigSettings(
            self.step, self.order, self.inputs, self.loops, self.error, self.pace,
            {k: v for k, v in self.multiples.items() if v > 1},
        )  # fmt: skip
        patches = set_annotation(target.source, target.cls, [VENDOR, "rig"], rig_text(settings))
        return Edited(patches, f"coupled its units every {self.step:g} s")


@dataclass(frozen=True, slots=True)
class OneModel:
    """Compute a rig as one model from now on."""

    do: Literal["one model"] = "one model"

    def apply(self, target: Target) -> Edited:
        patches = set_annotation(target.source, target.cls, [VENDOR, "rig"], None)
        return Edited(patches, "is computed as one model")


@dataclass(frozen=True, slots=True)
class ConnectPairs:
    """Wire many pairs of ports at once; none is wired when one cannot be."""

    pairs: Annotated[list[WireEnds], MinLen(1), MaxLen(MOST_PAIRS)]
    do: Literal["connect pairs"] = "connect pairs"

    def apply(self, target: Target) -> Edited:
        text, at = target.source.text, target
        for pair in self.pairs:
            edited = Connect(pair.from_port, pair.to_port).apply(at)
            text = apply(at.source.text, edited.patches)
            at = at.after(text)
        first, count = self.pairs[0], len(self.pairs)
        words = f"connected {first.from_port} and {first.to_port}"
        words = words if count == 1 else f"connected {count} pairs"
        return Edited(target.rewritten(text), words)


@dataclass(frozen=True, slots=True)
class KeepBoard:
    """The watch board of the model, whole."""

    tiles: Annotated[list[Tile], MaxLen(MOST_TILES)]
    summary: Annotated[str, MaxLen(200)] = ""
    do: Literal["board"] = "board"

    def apply(self, target: Target) -> Edited:
        for t in self.tiles:
            if t.width < 1 or t.height < 1 or t.x + t.width > COLUMNS:
                raise EditFault(f"the tile '{t.title or t.kind}' does not fit on the board.")
        text = board_text(list(self.tiles))
        patches = set_annotation(target.source, target.cls, [VENDOR, "board"], text)
        return Edited(
            patches, self.summary or f"arranged the watch board of {len(self.tiles)} tiles"
        )
