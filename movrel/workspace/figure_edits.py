"""Edits of the figures of a model."""

from __future__ import annotations

from movrel.language import edit_class
from movrel.workspace import figures
from movrel.workspace.editing import edit
from movrel.workspace.tables import Revision


def set_figure(
    project: int, qualified: str, revision: int, old: str, name: str, expression: str, unit: str, note: str
) -> Revision:
    """Add a figure, or give one another name, expression, unit or note."""
    name = name.strip()
    words = f"figure {name} = {expression.strip()}" + (f" {unit}" if unit else "")
    if old and old != name:
        words = f"figure {old} is now called {name}"
    return edit(
        project, qualified, revision,
        lambda at: (figures.set_figure(at.source, at.cls, old, name, expression, unit, " ".join(note.split())), words),
    )  # fmt: skip


def delete_figure(project: int, qualified: str, revision: int, name: str) -> Revision:
    """Take a figure away. Refused while something uses it, naming the line."""
    return edit(
        project, qualified, revision,
        lambda at: (edit_class.delete_component(at.source, at.cls, name), f"deleted the figure {name}"),
    )  # fmt: skip


def paste_figures(project: int, qualified: str, revision: int, text: str) -> Revision:
    """Add or change the figures of a table from a spreadsheet or CSV file, all of them or none."""
    rows = figures.read_table(text)
    return edit(
        project, qualified, revision,
        lambda at: (figures.set_many(at.source, at.cls, rows), f"{len(rows)} figure{'s' if len(rows) != 1 else ''} from a table"),
    )  # fmt: skip
