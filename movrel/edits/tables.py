"""What is typed or pasted into a vector or matrix: numbers with units, names and formulae."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import MaxLen

from movrel.edits.target import Edited, Name, Target
from movrel.edits.values import modelica_value
from movrel.equations.parameters import parameter_values
from movrel.errors import EditFault, MovrelError
from movrel.language.set_value import set_value
from movrel.language.typed_rows import typed_rows
from movrel.model.expression import Variable
from movrel.project.snapshot import loaded_model
from movrel.session import LoadedModel
from movrel.units import read_quantity

#: Most elements of a table that is typed or pasted; larger ones belong into a file beside the model.
MOST_ELEMENTS = 20_000


@dataclass(frozen=True, slots=True)
class SetTable:
    """``text`` holds the rows of a vector or matrix, as typed or pasted from a spreadsheet.

    A cell is a number, with any fitting unit, or an expression. One expression may give the whole table. Refused when
    there is no such parameter, when a cell is neither, when rows differ in length, or when the model does not take them.
    """

    name: Name
    text: Annotated[str, MaxLen(1_000_000)]
    do: Literal["table"] = "table"

    def apply(self, target: Target) -> Edited:
        text, size = table_text(target.loaded, self.name, self.text)
        path = self.name.split(".")
        patches = set_value(target.source, target.cls, path, text)
        flat = loaded_model(target.with_patches(patches), target.qualified).flat
        if not any(v.name.startswith(f"{self.name}[") for v in flat.variables):
            raise EditFault(f"with this table the model has no '{self.name}' any more.")
        parameter_values(flat, {})
        return Edited(patches, f"table {self.name} → {size}")


def table_text(model: LoadedModel, name: str, typed: str) -> tuple[str, str]:
    """The Modelica text of what was typed for a table of a model, and its size in words.

    Raises :class:`EditFault` for what is not a table of numbers and expressions.
    """
    element = re.compile(re.escape(name) + r"\[(\d+)(,\d+)?\]$")
    elements = [(v, m) for v in model.flat.variables if (m := element.match(v.name))]
    if (
        not elements
        or elements[0][0].variability != "parameter"
        or elements[0][0].type not in ("Real", "Integer")
    ):
        raise EditFault(f"the model has no table '{name}'.")
    if any(v.final for v, _ in elements):
        raise EditFault(f"'{name}' is computed from other values and cannot be set.")
    variable, matrix = elements[0][0], elements[0][1][2] is not None
    rows = _checked_rows(typed_rows(typed, lambda number, word: _is_unit(variable, number, word)))
    cells = [[_cell(variable, cell, i) for cell in row] for i, row in enumerate(rows, 1)]
    if len(cells) == len(cells[0]) == 1 and _gives_a_table(model, cells[0][0]):
        return cells[0][0], cells[0][0]
    if matrix:
        size = f"{len(cells)} by {len(cells[0])}"
        return "[" + "; ".join(", ".join(row) for row in cells) + "]", size
    count = sum(map(len, cells))
    words = f"{count} value{'s' if count != 1 else ''}"
    return "{" + ", ".join(cell for row in cells for cell in row) + "}", words


def _is_unit(variable: Variable, number: str, word: str) -> bool:
    if not variable.unit:
        return False
    try:
        return read_quantity(f"{number} {word}", variable.unit, variable.display_unit) is not None
    except MovrelError:
        return False


def _cell(variable: Variable, cell: str, row: int) -> str:
    if not cell:
        raise EditFault(f"row {row} has an empty cell.", hint="Give every cell a value.")
    if cell.lower().lstrip("+-") in ("inf", "nan", "infinity"):
        raise EditFault(f"row {row} holds a number that is not finite.")
    try:
        return modelica_value(variable, cell)[0]
    except MovrelError as fault:
        raise EditFault(f"row {row}: {fault.message}", hint=fault.hint) from None


def _gives_a_table(model: LoadedModel, text: str) -> bool:
    """Whether one expression stands for a whole table: a function call, or the name of another table."""
    return bool(re.match(r"[A-Za-z_][\w.]*\(", text)) or any(
        name.startswith(f"{text}[") for name in model.by_name
    )


def _checked_rows(rows: list[list[str]]) -> list[list[str]]:
    if not rows:
        raise EditFault("there are no rows.", hint="Type or paste values, one row in a line.")
    if sum(map(len, rows)) > MOST_ELEMENTS:
        raise EditFault(
            f"that is more than {MOST_ELEMENTS} values.",
            hint="Put them into a file beside the model.",
        )
    for i, row in enumerate(rows, 1):
        if len(row) != len(rows[0]):
            words = f"{len(row)} value{'s' if len(row) != 1 else ''}"
            raise EditFault(f"row {i} has {words}, the first has {len(rows[0])}.")
    return rows
