"""Edits of the named values of a model."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits import figure_table
from movrel.edits.target import Edited, Name, Target, Text
from movrel.language import edit_class


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
        words = f"figure {name} = {self.expression.strip()}" + (
            f" {self.unit}" if self.unit else ""
        )
        if self.old and self.old != name:
            words = f"figure {self.old} is now called {name}"
        patches = figure_table.set_figure(
            target.source, target.cls, self.old, name, self.expression, self.unit, note
        )
        return Edited(patches, words)


@dataclass(frozen=True, slots=True)
class DeleteFigure:
    """Take a named value away. Refused while something uses it, naming the line."""

    name: Name
    do: Literal["delete figure"] = "delete figure"

    def apply(self, target: Target) -> Edited:
        patches = edit_class.delete_component(target.source, target.cls, self.name)
        return Edited(patches, f"deleted the figure {self.name}")


@dataclass(frozen=True, slots=True)
class PasteFigures:
    """Rows of name, value, unit and note from a spreadsheet or CSV file, all of them or none."""

    text: Text
    do: Literal["figures"] = "figures"

    def apply(self, target: Target) -> Edited:
        rows = figure_table.read_table(self.text)
        text = figure_table.set_many(target.source, target.cls, rows)
        return Edited(
            target.rewritten(text),
            f"{len(rows)} figure{'s' if len(rows) != 1 else ''} from a table",
        )
