"""Tables that others measured or wrote: text with any separator, Parquet, spreadsheets.

What stands in such a file is guessed (separator, decimal mark, where the heads are, units, which column is the time) and
can be corrected; bad rows are left out and counted.
"""

from __future__ import annotations

import csv
import datetime
import io
import math
import re
import zipfile
from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.errors import MovrelError, UnitFault
from movrel.units import convert, unit

Array = npt.NDArray[np.float64]

#: Largest file in bytes, most rows and columns, and rows that are looked at for guesses.
SIZE_LIMIT, ROW_LIMIT, COLUMN_LIMIT, LOOKED_AT = 200_000_000, 5_000_000, 2000, 200
_SEPARATORS = (";", "\t", ",", "|")
_UNIT = re.compile(r"^(.*?)\s*[\[(]\s*([^\])]*)\s*[\])]\s*$")
_TIMES = re.compile(r"^(t|time|zeit|timestamp|date|datetime|seconds|sec)\b", re.I)
_DATES: tuple[str, ...] = (
    "%Y-%m-%d %H:%M:%S.%f", "%Y-%m-%d %H:%M:%S", "%Y-%m-%dT%H:%M:%S.%f", "%Y-%m-%dT%H:%M:%S", "%Y-%m-%d %H:%M",
    "%d.%m.%Y %H:%M:%S.%f", "%d.%m.%Y %H:%M:%S", "%d.%m.%Y %H:%M", "%d/%m/%Y %H:%M:%S", "%d/%m/%Y %H:%M",
)  # fmt: skip
_WITH_COMMA = re.compile(r"[+-]?(\d{1,3}(\.\d{3})+|\d*)(,\d*)?([eE][+-]?\d+)?")
_CLOCK = re.compile(r"^(\d{1,3}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?$")


@dataclass(frozen=True, slots=True)
class TableColumn:
    """A column: its name, its unit as far as one is written, and its values, not a number where a cell is none."""

    name: str
    unit: str
    values: Array

    def in_unit(self, wanted: str) -> Array:
        """The values in another unit of the same quantity; as they are where either unit is not known."""
        if not self.unit or not wanted or self.unit == wanted:
            return self.values
        offset = convert(0.0, self.unit, wanted)
        return (convert(1.0, self.unit, wanted) - offset) * self.values + offset


@dataclass(frozen=True, slots=True)
class MeasuredTable:
    """A table with a column that is the time in s, rising; ``notes`` say what was done with what did not fit."""

    columns: list[TableColumn]
    #: The number of the time among the columns.
    time: int
    notes: list[str] = field(default_factory=list)

    @property
    def instants(self) -> Array:
        return self.columns[self.time].values

    def column(self, name: str) -> TableColumn:
        """A column by its name. Raises :class:`MovrelError`."""
        for c in self.columns:
            if c.name == name:
                return c
        raise MovrelError(f"the table has no column '{name}'.")


def read_table_file(name: str, data: bytes, time: str = "") -> MeasuredTable:
    """The table in a file; ``time`` names the column of the time where the guess is wrong.

    Raises :class:`MovrelError` for what is no table.
    """
    if len(data) > SIZE_LIMIT:
        raise MovrelError(f"'{name}' is larger than {SIZE_LIMIT // 1_000_000} MB.")
    lower = name.lower()
    if lower.endswith(".parquet"):
        heads, rows = _parquet(name, data)
    elif lower.endswith((".xlsx", ".xlsm")):
        heads, rows = _split(name, _spreadsheet(name, data), lambda text: text)
    else:
        heads, rows = _text(name, data)
    return _table(name, heads, rows, time)


# --- the kinds of files ---


def _text(name: str, data: bytes) -> tuple[list[str], list[list[Any]]]:
    if b"\0" in data[:4096]:
        raise MovrelError(
            f"'{name}' is not a table: it is no text.",
            hint="Choose a CSV, Parquet or spreadsheet file.",
        )
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    lines = [line for line in text.splitlines() if line.strip()]
    if len(lines) < 2:
        raise MovrelError(f"'{name}' is not a table: it has fewer than two lines.")
    separator = _separator(lines)
    rows = (
        list(csv.reader(io.StringIO("\n".join(lines)), delimiter=separator))
        if separator
        else [line.split() for line in lines]
    )
    comma = _decimal_comma(rows, separator)
    return _split(name, rows, _with_point if comma else lambda text: text)


def _separator(lines: Sequence[str]) -> str:
    """The separator that cuts most lines into the same number of cells; empty for blanks."""
    looked = lines[:LOOKED_AT]
    best, most = "", (0.0, 0)
    for s in _SEPARATORS:
        counts = Counter(line.count(s) for line in looked)
        cells, often = counts.most_common(1)[0]
        if s == "," and _parted_by_blanks(looked[1:6]):
            continue
        if cells and (often / len(looked), cells) > most:
            best, most = s, (often / len(looked), cells)
    return best


def _with_point(text: str) -> str:
    """A number with a decimal comma as one with a point; anything else, names and dates included, as it is."""
    return text.replace(".", "").replace(",", ".") if _WITH_COMMA.fullmatch(text) else text


def _parted_by_blanks(lines: Sequence[str]) -> bool:
    """Whether lines hold numbers with decimal commas and blanks between them."""
    cells = [line.split() for line in lines]
    return bool(cells) and all(
        len(row) > 1 and all(re.fullmatch(r"[+-]?\d+(,\d+)?", c) for c in row) for row in cells
    )


def _decimal_comma(rows: Sequence[Sequence[str]], separator: str) -> bool:
    if separator == ",":
        return False
    cells = [c.strip() for row in rows[:LOOKED_AT] for c in row]
    commas = sum(bool(re.fullmatch(r"[+-]?\d*,\d+(?:[eE][+-]?\d+)?", c)) for c in cells)
    points = sum(bool(re.fullmatch(r"[+-]?\d*\.\d+(?:[eE][+-]?\d+)?", c)) for c in cells)
    return commas > points


def _spreadsheet(name: str, data: bytes) -> list[list[Any]]:
    from openpyxl import load_workbook

    try:
        sheet = load_workbook(io.BytesIO(data), read_only=True, data_only=True).active
        rows = [list(row) for row in sheet.iter_rows(values_only=True)] if sheet is not None else []
    except (zipfile.BadZipFile, KeyError, ValueError, OSError, TypeError):
        raise MovrelError(
            f"'{name}' is not a spreadsheet that can be read.", hint="Save it as .xlsx or CSV."
        ) from None
    return [row for row in rows if any(c is not None and str(c).strip() for c in row)]


def _parquet(name: str, data: bytes) -> tuple[list[str], list[list[Any]]]:
    import pyarrow as pa
    import pyarrow.parquet as pq

    try:
        table = pq.read_table(io.BytesIO(data))
    except (pa.ArrowException, OSError, ValueError):
        raise MovrelError(f"'{name}' is not a Parquet file that can be read.") from None
    heads = []
    for f in table.schema:
        said = (f.metadata or {}).get(b"unit", b"").decode("utf-8", "replace")
        heads.append(f"{f.name} [{said}]" if said else f.name)
    columns = [c.to_pylist() for c in table.columns]
    return heads, [list(row) for row in zip(*columns, strict=True)]


# --- heads, units, numbers ---


def _split(
    name: str, rows: list[list[Any]], clean: Callable[[str], str]
) -> tuple[list[str], list[list[Any]]]:
    """The heads and the rows below: the first row of which most cells are numbers ends the heads. They stand in the row
    above, or above a row of units; titles may stand over them."""
    rows = [[clean(c.strip()) if isinstance(c, str) else c for c in row] for row in rows]
    first = next((k for k, row in enumerate(rows[:LOOKED_AT]) if _is_numeric(row)), None)
    if first is None:
        raise MovrelError(
            f"'{name}' is not a table: no row holds numbers.",
            hint="Choose another file, or save it as CSV.",
        )
    width = len(rows[first])
    above = [r for r in rows[:first] if sum(bool(str(c or "").strip()) for c in r) > width / 2]
    names = [[str(c or "").strip() for c in row[:width]] for row in above[-2:]]
    units: list[str] = []
    if len(names) > 1:
        said = [cell.strip("[]()") for cell in names[-1]]
        if any(said) and all(_is_unit(u) for u in said if u):
            units = said
            names.pop()
    heads = names[-1] if names else []
    heads += [f"column {k + 1}" for k in range(len(heads), width)]
    if units:
        heads = [
            f"{h} [{u}]" if u and not _UNIT.match(h) else h
            for h, u in zip(heads, units, strict=False)
        ]
    return heads, rows[first:]


def _is_numeric(row: Sequence[Any]) -> bool:
    filled = [c for c in row if str(c if c is not None else "").strip()]
    good = sum(not math.isnan(_number(c)) for c in filled)
    return bool(filled) and good >= max(1, (len(filled) + 1) // 2)


def _is_unit(text: str) -> bool:
    try:
        unit(_unit_text(text))
    except UnitFault:
        return False
    return True


def _unit_text(text: str) -> str:
    return {"°C": "degC", "°F": "degF", "°": "deg", "Ω": "Ohm", "-": "1", "%": "%"}.get(text, text)


def _number(cell: Any) -> float:
    """A cell as a number, times as seconds since 1970 or since midnight; not a number where it is none."""
    if isinstance(cell, bool):
        return float(cell)
    if isinstance(cell, int | float):
        return float(cell)
    if isinstance(cell, datetime.datetime):
        return _seconds(cell)
    if isinstance(cell, datetime.time):
        return cell.hour * 3600 + cell.minute * 60 + cell.second + cell.microsecond * 1e-6
    if not isinstance(cell, str) or not cell:
        return math.nan
    try:
        return float(cell)
    except ValueError:
        pass
    clock = _CLOCK.match(cell)
    if clock:
        return (
            int(clock[1]) * 3600 + int(clock[2]) * 60 + float((clock[3] or "0").replace(",", "."))
        )
    if cell[:1].isdigit() and len(cell) >= 14:
        for pattern in _DATES:
            try:
                return _seconds(datetime.datetime.strptime(cell.removesuffix("Z"), pattern))
            except ValueError:
                continue
    return math.nan


def _seconds(at: datetime.datetime) -> float:
    return (at.replace(tzinfo=None) - datetime.datetime(1970, 1, 1)).total_seconds()


def _table(name: str, heads: list[str], rows: list[list[Any]], time: str) -> MeasuredTable:
    if len(rows) > ROW_LIMIT or len(heads) > COLUMN_LIMIT:
        raise MovrelError(
            f"'{name}' has {len(rows)} rows and {len(heads)} columns, more than can be read."
        )
    width = len(heads)
    numbers = np.full((len(rows), width), np.nan)
    short = 0
    for k, row in enumerate(rows):
        short += len(row) < width
        for j, cell in enumerate(row[:width]):
            numbers[k, j] = _number(cell)
    named = [_named(h, j) for j, h in enumerate(heads)]
    kept = [j for j in range(width) if np.isfinite(numbers[:, j]).any()]
    if len(kept) < 2:
        raise MovrelError(f"'{name}' is not a table: it has fewer than two columns of numbers.")
    notes = [
        f"column '{named[j][0]}' holds no numbers and is left out."
        for j in range(width)
        if j not in kept
    ]
    if short:
        notes.append(f"{short} rows are shorter than the others; their missing cells are empty.")
    at = _time_of(named, numbers, kept, time)
    instants, factor = numbers[:, at], _time_factor(named[at][1])
    good = np.isfinite(instants)
    if not good.all():
        notes.append(f"{int((~good).sum())} rows without a time are left out.")
    numbers, instants = numbers[good], instants[good] * factor
    order = np.argsort(instants, kind="stable")
    if (np.diff(order) < 0).any():
        notes.append("the rows are put into the order of their times.")
    numbers, instants = numbers[order], instants[order]
    twice = np.concatenate([[False], np.diff(instants) <= 0])
    if twice.any():
        notes.append(f"{int(twice.sum())} rows with a time that another one has are left out.")
        numbers, instants = numbers[~twice], instants[~twice]
    if len(instants) < 2:
        raise MovrelError(f"'{name}' has fewer than two instants.")
    if instants[0] > 1e8:
        notes.append("times are counted from the first row.")
        instants = instants - instants[0]
    columns: list[TableColumn] = []
    for j in kept:
        own, said = named[j]
        if j == at:
            columns.append(TableColumn(own, "s", instants))
            continue
        values = numbers[:, j]
        bad = int((~np.isfinite(values)).sum())
        if bad:
            notes.append(f"{bad} cells of '{own}' are no numbers.")
        columns.append(TableColumn(own, said, values))
    return MeasuredTable(columns, kept.index(at), notes)


def _named(head: str, number: int) -> tuple[str, str]:
    """The name and the unit of a head."""
    match = _UNIT.match(head)
    name, said = (match[1].strip(), _unit_text(match[2].strip())) if match else (head, "")
    if said and not _is_unit(said):
        name, said = head, ""
    return name or f"column {number + 1}", "" if said == "1" else said


def _time_of(named: list[tuple[str, str]], numbers: Array, kept: list[int], wanted: str) -> int:
    if wanted:
        for j in kept:
            if named[j][0] == wanted:
                return j
        raise MovrelError(f"the table has no column '{wanted}'.")

    def rises(j: int, share: float) -> bool:
        values = numbers[np.isfinite(numbers[:, j]), j]
        return len(values) > 1 and bool((np.diff(values) >= 0).mean() > share)

    likely = [j for j in kept if _TIMES.match(named[j][0]) and rises(j, 0.5)]
    return (likely or [j for j in kept if rises(j, 0.9)] or kept)[0]


def _time_factor(said: str) -> float:
    try:
        return unit(said).factor if said and unit(said).dimension == unit("s").dimension else 1.0
    except UnitFault:
        return 1.0
