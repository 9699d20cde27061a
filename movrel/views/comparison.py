"""What differs between two texts of a model: lines, parts and wires, and both sheets."""

from __future__ import annotations

import difflib
from dataclasses import dataclass

from movrel.errors import MovrelError
from movrel.project.snapshot import Snapshot, class_tree, definition_of
from movrel.sheet.drawing import sheet
from movrel.sheet.elements import Sheet


@dataclass(frozen=True, slots=True)
class TextLine:
    """A line that was ``added``, ``removed`` or stays the ``same``; a ``gap`` stands for those between."""

    kind: str
    text: str


@dataclass(frozen=True, slots=True)
class Change:
    """A part or wire that came, went, moved or became of another class."""

    what: str
    name: str


@dataclass(frozen=True, slots=True)
class Comparison:
    lines: list[TextLine]
    before: Sheet | None
    after: Sheet | None
    changes: list[Change]


def compare(snapshot: Snapshot, qualified: str, path: str, before: str, after: str) -> Comparison:
    """Two texts of the file that holds a model, side by side."""
    first, second = (_drawn(snapshot.changed(path, text), qualified) for text in (before, after))
    lines = []
    for line in list(
        difflib.unified_diff(before.splitlines(), after.splitlines(), n=2, lineterm="")
    )[2:]:
        kind = {"+": "added", "-": "removed", "@": "gap"}.get(line[:1], "same")
        lines.append(TextLine(kind, line[1:] if kind != "gap" else ""))
    return Comparison(lines, first, second, _changes(first, second))


def _drawn(snapshot: Snapshot, qualified: str) -> Sheet | None:
    try:
        return sheet(class_tree(snapshot), definition_of(snapshot, qualified))
    except MovrelError:
        return None


def _changes(before: Sheet | None, after: Sheet | None) -> list[Change]:
    if before is None or after is None:
        return []
    old = {c.name: c for c in before.components}
    new = {c.name: c for c in after.components}
    changes = [Change("added", n) for n in new if n not in old]
    changes += [Change("removed", n) for n in old if n not in new]
    for name in old.keys() & new.keys():
        if old[name].class_name != new[name].class_name:
            changes.append(Change("swapped", name))
        elif (old[name].extent, old[name].rotation) != (new[name].extent, new[name].rotation):
            changes.append(Change("moved", name))
    wires = [
        {f"{c.from_port} – {c.to_port}" for c in drawn.connections} for drawn in (before, after)
    ]
    changes += [Change("wired", w) for w in sorted(wires[1] - wires[0])]
    changes += [Change("unwired", w) for w in sorted(wires[0] - wires[1])]
    return changes
