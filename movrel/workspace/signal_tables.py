"""Measured tables that become parts of a model."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from movrel.analyse.sampling import thin
from movrel.exchange.signal_table import (
    FOLDER,
    TableChoices,
    class_of_table,
    file_of_table,
    names_in_part,
)
from movrel.exchange.table_files import MeasuredTable, read_table_file
from movrel.workspace import projects, resources

#: Points of a preview, and rows that are shown.
POINTS, SHOWN = 300, 8


@dataclass(frozen=True, slots=True)
class PreviewColumn:
    """A column with its first cells and a thinned curve."""

    name: str
    name_in_part: str
    unit: str
    first: list[float | None]
    time: list[float] = field(default_factory=list)
    values: list[float] = field(default_factory=list)


@dataclass(frozen=True, slots=True)
class TablePreview:
    """What is in a file: its columns without the time, the column that is the time, and what was done with bad rows."""

    columns: list[PreviewColumn]
    time: str
    #: Columns that may be the time instead.
    times: list[str]
    rows: int
    start: float
    stop: float
    notes: list[str]


def preview(name: str, data: bytes, time: str = "") -> TablePreview:
    """What is in a file. Raises :class:`movrel.errors.MovrelError` for what is no table."""
    return preview_of(read_table_file(name, data, time))


def preview_of(table: MeasuredTable) -> TablePreview:
    """What is in a table."""
    names = names_in_part(table)
    columns: list[PreviewColumn] = []
    for k, c in enumerate(table.columns):
        if k == table.time:
            continue
        good = [v == v for v in c.values.tolist()]
        t, y = thin(table.instants[good], c.values[good], POINTS, None, None)
        first = [v if v == v else None for v in c.values[:SHOWN].tolist()]
        columns.append(PreviewColumn(c.name, names[c.name], c.unit, first, t.tolist(), y.tolist()))
    return TablePreview(
        columns, table.columns[table.time].name, [c.name for c in table.columns], len(table.instants),
        float(table.instants[0]), float(table.instants[-1]), table.notes,
    )  # fmt: skip


def keep(project: int, name: str, data: bytes, time: str, choices: TableChoices) -> str:
    """Keep the chosen columns beside the models of a project; the text of the class that gives them as signals."""
    projects.project(project)
    table = read_table_file(name, data, time)
    stem = Path(name.replace("\\", "/")).stem or "table"
    file = f"{FOLDER}/{stem}.csv"
    text = class_of_table(table, choices, file)
    content = file_of_table(table, choices).encode("utf-8")
    kept = resources.by_path(project, file)
    number = 2
    while kept is not None and resources.content_of(kept) != content:
        file = f"{FOLDER}/{stem}{number}.csv"
        kept, number = resources.by_path(project, file), number + 1
        text = class_of_table(table, choices, file)
    resources.keep(project, file, content)
    return text
