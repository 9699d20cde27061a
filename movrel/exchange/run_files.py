"""Curves as files of other programs."""

from __future__ import annotations

import io
from dataclasses import dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.delimited import delimited, head
from movrel.errors import MovrelError
from movrel.units import pretty

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


def as_file(columns: list[Column], kind: str, title: str) -> bytes:
    """The columns as a CSV, Parquet or spreadsheet file. Raises :class:`MovrelError` for another kind."""
    if kind == "csv":
        return _csv(columns)
    if kind == "parquet":
        return _parquet(columns)
    if kind == "xlsx":
        return _sheet(columns, title)
    raise MovrelError(f"there is no file kind '{kind}'.", hint=f"Take {', '.join(KINDS)}.")


def _csv(columns: list[Column]) -> bytes:
    rows = np.column_stack([c.values for c in columns]).tolist()
    return delimited([head(c.name, c.unit) for c in columns], rows).encode("utf-8")


def _parquet(columns: list[Column]) -> bytes:
    import pyarrow as pa
    import pyarrow.parquet as pq

    fields = [pa.field(c.name, pa.float64(), metadata={"unit": c.unit}) for c in columns]
    out = io.BytesIO()
    pq.write_table(
        pa.Table.from_arrays([pa.array(c.values) for c in columns], schema=pa.schema(fields)), out
    )
    return out.getvalue()


def _sheet(columns: list[Column], title: str) -> bytes:
    import xlsxwriter

    if len(columns[0].values) > SHEET_ROWS:
        raise MovrelError(
            f"a spreadsheet holds {SHEET_ROWS} rows.",
            hint="Choose a longer interval, or take CSV or Parquet.",
        )
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"constant_memory": False, "nan_inf_to_errors": True})
    page: Any = book.add_worksheet(
        title.translate(str.maketrans("[]:*?/\\", "       "))[:31] or "Run"
    )
    bold = book.add_format({"bold": True})
    for k, column in enumerate(columns):
        page.write_string(0, k, column.name, bold)
        page.write_string(1, k, pretty(column.unit))
        page.write_column(2, k, column.values.tolist())
    page.freeze_panes(2, 1)
    book.close()
    return out.getvalue()
