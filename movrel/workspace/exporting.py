"""Runs as files of other programs: chosen variables on the stored instants or on an even grid."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError
from movrel.units import pretty
from movrel.workspace import ledger, results
from movrel.workspace.run_curves import ENDED
from movrel.workspace.tables import Run

Array = npt.NDArray[np.float64]

#: Kinds of files, with their type on the wire.
KINDS = {
    "csv": "text/csv; charset=utf-8",
    "parquet": "application/vnd.apache.parquet",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
}
#: Rows that a spreadsheet holds, and cells of a file at most.
SHEET_ROWS, MOST_CELLS = 1_048_575, 50_000_000


@dataclass(frozen=True, slots=True)
class Column:
    """One variable in the unit in which people see it."""

    name: str
    unit: str
    values: Array


def columns(run: Run, names: list[str], interval: float | None, low: float | None, high: float | None) -> list[Column]:
    """The time and the variables; all of them when no names are given.

    With an ``interval`` in s they stand on an even grid, interpolated; at an event the value after it.
    """
    entries = {e["name"]: e for e in run.catalogue}
    wanted = names or list(entries)
    missing = next((n for n in wanted if n not in entries), None)
    if missing is not None:
        raise MovrelError(f"the run has no variable '{missing}'.")
    finished = run.state in ENDED
    time = results.column(run.id, results.TIME, run.points, finished)
    if not len(time):
        raise MovrelError("the run has stored nothing.")
    low = float(time[0]) if low is None else low
    high = float(time[-1]) if high is None else high
    inside = (time >= low) & (time <= high)
    count = int(inside.sum()) if interval is None else int((high - low) / interval) + 1 if interval > 0 else 0
    if count < 1:
        raise MovrelError("there are no rows in this range.", hint="Choose another range or interval.")
    if count * (len(wanted) + 1) > MOST_CELLS:
        raise MovrelError(
            f"that would be {count} rows of {len(wanted) + 1} columns.", hint="Choose fewer variables or a longer interval."
        )
    grid: Array = time[inside] if interval is None else np.asarray(low + interval * np.arange(count), dtype=np.float64)
    found = [Column("time", "s", grid)]
    for name in wanted:
        entry = entries[name]
        shown = entry["display_unit"] or entry["unit"]
        factor, offset = ledger.scale(entry["unit"], shown)
        if entry["column"] is None:
            values = np.full(count, float(entry["constant"]))
        else:
            whole = results.column(run.id, entry["column"], run.points, finished)[: len(time)] * entry["sign"]
            values = whole[inside] if interval is None else _on_grid(time, whole, grid)
        found.append(Column(name, shown if shown != "1" else "", values * factor + offset))
    return found


def _on_grid(time: Array, values: Array, grid: Array) -> Array:
    """Values between stored instants; where two share an instant the later one."""
    after = np.clip(np.searchsorted(time, grid, "right"), 1, len(time) - 1)
    t0, t1 = time[after - 1], time[after]
    share = np.divide(grid - t0, t1 - t0, out=np.zeros(len(grid)), where=t1 > t0)
    return np.asarray(values[after - 1] + np.clip(share, 0, 1) * (values[after] - values[after - 1]))


def as_file(found: list[Column], kind: str, title: str) -> bytes:
    """The columns as a CSV, Parquet or spreadsheet file. Raises :class:`MovrelError` for another kind."""
    if kind == "csv":
        return _csv(found)
    if kind == "parquet":
        return _parquet(found)
    if kind == "xlsx":
        return _sheet(found, title)
    raise MovrelError(f"there is no file kind '{kind}'.", hint=f"Take {', '.join(KINDS)}.")


def _csv(found: list[Column]) -> bytes:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([f"{c.name} [{c.unit}]" if c.unit else c.name for c in found])
    writer.writerows([[repr(v) for v in row] for row in np.column_stack([c.values for c in found]).tolist()])
    return out.getvalue().encode("utf-8")


def _parquet(found: list[Column]) -> bytes:
    import pyarrow as pa
    import pyarrow.parquet as pq

    fields = [pa.field(c.name, pa.float64(), metadata={"unit": c.unit}) for c in found]
    out = io.BytesIO()
    pq.write_table(pa.Table.from_arrays([pa.array(c.values) for c in found], schema=pa.schema(fields)), out)
    return out.getvalue()


def _sheet(found: list[Column], title: str) -> bytes:
    import xlsxwriter

    if len(found[0].values) > SHEET_ROWS:
        raise MovrelError(f"a spreadsheet holds {SHEET_ROWS} rows.", hint="Choose a longer interval, or take CSV or Parquet.")
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"constant_memory": False, "nan_inf_to_errors": True})
    page: Any = book.add_worksheet(title.translate(str.maketrans("[]:*?/\\", "       "))[:31] or "Run")
    bold = book.add_format({"bold": True})
    for k, column in enumerate(found):
        page.write_string(0, k, column.name, bold)
        page.write_string(1, k, pretty(column.unit))
        page.write_column(2, k, column.values.tolist())
    page.freeze_panes(2, 1)
    book.close()
    return out.getvalue()
