"""Tables as text for spreadsheets and scripts: comma-separated values (RFC 4180) with line feeds.

A head says the unit in square brackets where there is one. Numbers have all their digits.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence
from itertools import islice

#: Rows that are written at once.
BLOCK = 1000


def head(name: str, unit: str | None = None) -> str:
    """The head of a column: ``basin.level [m]``, or the name alone for what has no unit."""
    return f"{name} [{unit}]" if unit not in (None, "", "1") else name


def delimited(heads: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A table with one line for the heads; None is an empty cell."""
    return "".join(delimited_blocks(heads, rows))


def delimited_blocks(heads: Sequence[str], rows: Iterable[Sequence[object]]) -> Iterator[str]:
    """The same in blocks of some lines each, so that a long table is never whole in memory."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([_cell(text) for text in heads])
    remaining = iter(rows)
    while block := list(islice(remaining, BLOCK)):
        writer.writerows([[_cell(v) for v in row] for row in block])
        yield out.getvalue()
        out.seek(0)
        out.truncate()
    if out.tell():
        yield out.getvalue()


#: What a spreadsheet takes for a formula, and what is a number all the same.
_FORMULA, _NUMBER = re.compile(r"[=+@\t\r-]"), re.compile(r"[+-]?[\d.]+(?:[eE][+-]?\d+)?")


def _cell(value: object) -> object:
    """A value as it is written; the writer itself gives floats all their digits and leaves None empty.

    A text that a spreadsheet would take for a formula begins with an apostrophe, as one would type it there.
    """
    if isinstance(value, bool):
        return str(value).lower()
    if isinstance(value, str) and _FORMULA.match(value) and not _NUMBER.fullmatch(value):
        return f"'{value}"
    return value
