"""The table of the named values of a model: values and expressions that its parameters draw on."""

from __future__ import annotations

from dataclasses import dataclass, replace

from movrel.edits.figure_rows import FigureRow, figures
from movrel.edits.figure_table import attribute_text
from movrel.edits.figures import read_pasted
from movrel.edits.start_script import script_of, worked_out
from movrel.edits.typed_figures import UnreadLine
from movrel.language import syntax as s
from movrel.language.start_script import ScriptResult
from movrel.model.classes import Definition
from movrel.project.snapshot import Snapshot, class_tree, definition_of


@dataclass(frozen=True, slots=True)
class FigureTable:
    figures: list[FigureRow]
    #: The start script of a package of values; empty for none.
    script: str
    #: The vectors and tables that it works out.
    tables: list[ScriptedValue]


@dataclass(frozen=True, slots=True)
class ScriptedValue:
    """What a start script works out: ``size`` in words, such as 3 × 2, and for a number its value in ``unit``."""

    name: str
    size: str
    value: float | None
    unit: str
    note: str


@dataclass(frozen=True, slots=True)
class ScriptOutcome:
    """What a start script would work out."""

    results: list[ScriptedValue]


@dataclass(frozen=True, slots=True)
class PastedFigures:
    """How many named values a pasted text gives, and the lines that give none."""

    count: int
    unread: list[UnreadLine]


def pasted_figures(snapshot: Snapshot, qualified: str, text: str) -> PastedFigures:
    """What pasting a text into a model would give. Raises :class:`movrel.errors.NotFound`."""
    read = read_pasted(class_tree(snapshot), definition_of(snapshot, qualified), text)
    return PastedFigures(len(read.figures), read.unread)


def figure_table(snapshot: Snapshot, qualified: str) -> FigureTable:
    """The named values of a model. Raises :class:`movrel.errors.NotFound`."""
    tree, definition = class_tree(snapshot), definition_of(snapshot, qualified)
    source, results = script_of(definition)
    rows = [replace(row, scripted=row.name in results) for row in figures(tree, definition)]
    tables = [_stored(definition, e) for e in definition.node.elements
              if isinstance(e, s.Component) and e.name in results and e.subscripts]  # fmt: skip
    return FigureTable(rows, source, tables)


def _stored(definition: Definition, node: s.Component) -> ScriptedValue:
    """A vector or table of a script as it stands in the text."""
    size = " × ".join(definition.source.slice(n) for n in node.subscripts if isinstance(n, s.Node))
    unit = attribute_text(node, "displayUnit") or attribute_text(node, "unit")
    words = size if "×" in size else f"{size} values"
    return ScriptedValue(node.name, words, None, unit, node.comment.text if node.comment else "")


def script_outcome(snapshot: Snapshot, qualified: str, source: str) -> ScriptOutcome:
    """What a start script would work out. Raises :class:`movrel.errors.EditFault` with the line where it cannot."""
    results = worked_out(class_tree(snapshot), definition_of(snapshot, qualified), source)
    return ScriptOutcome([_scripted(r) for r in results])


def _scripted(result: ScriptResult) -> ScriptedValue:
    value = result.value
    if isinstance(value, float):
        return ScriptedValue(result.name, "", value, result.unit, result.note)
    first = value[0]
    size = f"{len(value)} × {len(first)}" if isinstance(first, list) else f"{len(value)} values"
    return ScriptedValue(result.name, size, None, result.unit, result.note)
