"""Edits of the named values of a model."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.analyse.quantity import Quantity
from movrel.edits import figure_table
from movrel.edits.figure_rows import figures
from movrel.edits.formulae import unit_by_names
from movrel.edits.target import Edited, Name, Target, Text
from movrel.edits.typed_figures import ReadFigures, UnreadLine, read_figures, refused_if_nothing
from movrel.language import edit_class
from movrel.language import syntax as s
from movrel.model.classes import ClassTree, Definition
from movrel.units import unit


@dataclass(frozen=True, slots=True)
class SetFigure:
    """Add a named value, or give one another name, expression, unit or note."""

    name: Name
    expression: Annotated[str, MaxLen(10_000)]
    #: The name before; empty for a new one.
    old: Name = ""
    unit: Annotated[str, MaxLen(100)] = ""
    note: Annotated[str, MaxLen(2000)] = ""
    do: Literal["figure"] = "figure"

    def apply(self, target: Target) -> Edited:
        name, note = self.name.strip(), " ".join(self.note.split())
        words = f"value {name} = {self.expression.strip()}" + (f" {self.unit}" if self.unit else "")
        if self.old and self.old != name:
            words = f"value {self.old} is now called {name}"
        symbol = self.unit if self.unit.strip() else _unit_by_names(target, self.expression)
        patches = figure_table.set_figure(
            target.source, target.cls, self.old, name, self.expression, symbol, note
        )
        return Edited(patches, words)


def _unit_by_names(target: Target, expression: str) -> str:
    """The unit that a formula of other named values has."""
    if not re.search(r"[A-Za-z_]", expression):
        return ""
    quantities: dict[str, Quantity | None] = {}
    for row in figures(target.tree, target.definition):
        is_number = isinstance(row.value, float) and not row.fault
        quantities[row.name] = (
            Quantity(row.value, unit(row.si).dimension) if row.si and is_number else None
        )
    return unit_by_names(expression, quantities)


@dataclass(frozen=True, slots=True)
class DeleteFigure:
    """Take a named value away. Refused while something uses it, naming the line."""

    name: Name
    do: Literal["delete figure"] = "delete figure"

    def apply(self, target: Target) -> Edited:
        patches = edit_class.delete_component(target.source, target.cls, self.name)
        return Edited(patches, f"deleted the value {self.name}")


@dataclass(frozen=True, slots=True)
class PasteFigures:
    """Named values from a spreadsheet, a CSV file or a script: every line that gives one. Refused when none does."""

    text: Text
    do: Literal["figures"] = "figures"

    def apply(self, target: Target) -> Edited:
        read = read_pasted(target.tree, target.definition, self.text)
        refused_if_nothing(self.text, read)
        rows = [
            figure_table.StoredFigure(f.name, f.expression, f.unit, f.si, f.note)
            for f in read.figures
        ]
        count = f"{len(rows)} value{'s' if len(rows) != 1 else ''}"
        return Edited(figure_table.set_many(target.source, target.cls, rows), f"pasted {count}")


def read_pasted(tree: ClassTree, definition: Definition, text: str) -> ReadFigures:
    """What a pasted text gives to a model: :func:`.typed_figures.read_figures`, without names that are not free."""
    read = read_figures(text, lambda reference: figure_table.is_known(tree, definition, reference))
    own = {n.name for n in figure_table.figure_nodes(definition.node)}
    others = {
        e.name for e in definition.node.elements if isinstance(e, s.Component | s.ClassDef)
    } - own
    lines = text.splitlines()
    return ReadFigures(
        [f for f in read.figures if f.name not in others],
        sorted(
            [
                *read.unread,
                *(
                    UnreadLine(f.line, lines[f.line - 1].strip(), f"'{f.name}' is something else in the model")
                    for f in read.figures
                    if f.name in others
                ),
            ],
            key=lambda u: u.line,
        ),
    )  # fmt: skip
