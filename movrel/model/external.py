"""The few external functions that are known; all others are refused (specification 12.9)."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path

from movrel.errors import MovrelError, Place, TypeFault
from movrel.model.environment import Model, Value
from movrel.model.expression import Expr, const
from movrel.model.number_rows import number_rows
from movrel.model.resource_files import resource_file

#: Largest file that is read as a table, in bytes.
FILE_LIMIT = 20_000_000


def read_table(model: Model, arguments: list[Value], where: Place) -> list[list[Expr]]:
    """The numbers of a text file below one of the folders from which the model was loaded."""
    name = arguments[0]
    if not isinstance(name, Expr):
        raise TypeFault("the name of the file must be one text.", where)
    text = (
        name.value
        if name.op == "const"
        else model.structural_value(name, "the name of the file", where)
    )
    if not isinstance(text, str):
        raise TypeFault("the name of the file must be a text.", where)
    model.reads_files = True
    path = resource_file(text, model.tree.folders, where)
    if path.stat().st_size > FILE_LIMIT:
        raise MovrelError(f"the file '{text}' is larger than {FILE_LIMIT // 1_000_000} MB.", where)
    try:
        rows = _numbers(path, path.stat().st_mtime_ns)
    except (OSError, UnicodeDecodeError):
        raise MovrelError(f"the file '{text}' cannot be read as text.", where) from None
    if not rows:
        raise MovrelError(
            f"the file '{text}' holds no rows of numbers.",
            where,
            "Write numbers, parted by commas.",
        )
    widths = {len(row) for row in rows}
    if len(widths) > 1:
        short = next(i for i, row in enumerate(rows, 1) if len(row) != len(rows[0]))
        raise MovrelError(
            f"row {short} of '{text}' has {len(rows[short - 1])} numbers, the first has {len(rows[0])}.",
            where,
        )
    return [[const(v) for v in row] for row in rows]


@lru_cache(maxsize=32)
def _numbers(path: Path, changed: int) -> list[list[float]]:
    return number_rows(path.read_text(encoding="utf-8-sig"))


#: By the name in the external clause of the language "Movrel".
KNOWN: dict[str, Callable[[Model, list[Value], Place], Value]] = {"read_table": read_table}
