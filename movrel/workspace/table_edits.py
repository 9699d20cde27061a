"""The edit that gives a parameter a whole table, as it is typed or pasted from a spreadsheet."""

from __future__ import annotations

import math
import re

from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault
from movrel.language.patch import Patch, apply
from movrel.language.set_value import set_value
from movrel.model.number_rows import number_rows
from movrel.workspace.editing import Make, Target, edit
from movrel.workspace.projects import loaded_model
from movrel.workspace.tables import Revision

#: Most numbers in a table that is typed or pasted; larger ones belong into a file beside the model.
MOST = 20_000


def set_table(project: int, qualified: str, revision: int, name: str, typed: str) -> Revision:
    """Give the parameter ``name``, a vector or matrix of numbers, new rows.

    Raises :class:`EditFault` when there is no such parameter, when the text holds no numbers or rows of
    different lengths, or when the model does not take them; then nothing is changed.
    """
    return edit(project, qualified, revision, _make(name, typed))


def _make(name: str, typed: str) -> Make:
    def make(at: Target) -> tuple[str | list[Patch], str]:
        flat = loaded_model(at.taken, at.qualified).flat
        element = re.compile(re.escape(name) + r"\[(\d+)(,\d+)?\]$")
        elements = [(v, m) for v in flat.variables if (m := element.match(v.name))]
        if not elements or elements[0][0].variability != "parameter" or elements[0][0].type not in ("Real", "Integer"):
            raise EditFault(f"the model has no table '{name}'.")
        if any(v.final for v, _ in elements):
            raise EditFault(f"'{name}' is computed from other values and cannot be set.")
        rows = _checked(number_rows(typed))
        matrix = elements[0][1][2] is not None
        text = _literal(rows, matrix)
        patches = set_value(at.source, at.cls, name.split("."), text)
        _judge(at, patches, name)
        size = f"{len(rows)} by {len(rows[0])}" if matrix else f"{sum(map(len, rows))} values"
        return patches, f"table {name} → {size}"

    return make


def _checked(rows: list[list[float]]) -> list[list[float]]:
    if not rows:
        raise EditFault("there are no rows of numbers.", hint="Type or paste numbers, one row in a line.")
    if sum(map(len, rows)) > MOST:
        raise EditFault(f"that are more than {MOST} numbers.", hint="Put them into a file beside the model.")
    for i, row in enumerate(rows, 1):
        if len(row) != len(rows[0]):
            raise EditFault(f"row {i} has {len(row)} numbers, the first has {len(rows[0])}.")
        if not all(math.isfinite(v) for v in row):
            raise EditFault(f"row {i} holds a number that is not finite.")
    return rows


def _literal(rows: list[list[float]], matrix: bool) -> str:
    if matrix:
        return "[" + "; ".join(", ".join(_number(v) for v in row) for row in rows) + "]"
    return "{" + ", ".join(_number(v) for row in rows for v in row) + "}"


def _number(value: float) -> str:
    return str(int(value)) if value == int(value) and abs(value) < 1e15 else repr(value)


def _judge(at: Target, patches: list[Patch], name: str) -> None:
    """Refuse a table with which the model cannot be worked out."""
    flat = loaded_model(at.taken.changed(at.source.file, apply(at.source.text, patches)), at.qualified).flat
    if not any(v.name.startswith(f"{name}[") for v in flat.variables):
        raise EditFault(f"with this table the model has no '{name}' any more.")
    parameter_values(flat, {})
