"""A measured table as a part that gives signals over time: its class, and the file that it reads."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Literal, TypeAlias

import numpy as np

from movrel.errors import MovrelError
from movrel.exchange.table_files import MeasuredTable, TableColumn
from movrel.language.class_annotation import quoted
from movrel.language.names import FUNCTIONS, RESERVED, is_name

#: What a signal does between two rows.
Between: TypeAlias = Literal["straight", "hold", "smooth"]
_FUNCTION: dict[Between, str] = {"straight": "linear", "hold": "hold", "smooth": "cubic"}
#: Where tables lie beside the models of a project, and most rows of one.
FOLDER, ROW_LIMIT = "Tables", 20_000


@dataclass(frozen=True, slots=True)
class TableChoices:
    """How a table becomes a part: the columns that are given, by their names there; ``before`` the values before the first
    row, by column, the first value without one."""

    name: str
    columns: Mapping[str, str]
    units: Mapping[str, str] = field(default_factory=dict)
    between: Between = "straight"
    cyclic: bool = False
    before: Mapping[str, float] = field(default_factory=dict)


def names_in_part(table: MeasuredTable) -> dict[str, str]:
    """What each column is called in the part: as in the file where that is a name there, else much like it."""
    names: dict[str, str] = {}
    for k, c in enumerate(table.columns):
        if k == table.time:
            continue
        stem = re.sub(r"\W+", "_", c.name, flags=re.ASCII).strip("_") or f"column_{k + 1}"
        if not is_name(stem) or stem in RESERVED | FUNCTIONS:
            stem = f"s_{stem}"
        free, n = stem, 2
        while free in names.values() or free in ("table", "t"):
            free, n = f"{stem}_{n}", n + 1
        names[c.name] = free
    return names


def file_of_table(table: MeasuredTable, choices: TableChoices) -> str:
    """The rows of the chosen columns as text: times in s, then values; cells without a number are filled by straight lines.

    Raises :class:`MovrelError` for too many rows and for columns that there are not.
    """
    if len(table.instants) > ROW_LIMIT:
        raise MovrelError(
            f"the table has {len(table.instants)} rows; a part takes {ROW_LIMIT}.",
            hint="Keep every tenth row, for instance.",
        )
    columns = [table.instants] + [_filled(table, table.column(name)) for name in choices.columns]
    rows = np.column_stack(columns).tolist()
    heads = ["time [s]"] + [
        f"{name} [{unit}]" if (unit := choices.units.get(name, table.column(name).unit)) else name
        for name in choices.columns
    ]
    # Heads are remarks, so that no name of a column is taken for a number.
    lines = ["# " + "; ".join(heads), *("; ".join(repr(v) for v in row) for row in rows)]
    return "\n".join(lines) + "\n"


def _filled(table: MeasuredTable, c: TableColumn) -> np.ndarray:
    good = np.isfinite(c.values)
    filled: np.ndarray = np.interp(table.instants, table.instants[good], c.values[good])
    return filled


def class_of_table(table: MeasuredTable, choices: TableChoices, file: str) -> str:
    """The text of the class. Raises :class:`MovrelError` for choices that do not fit."""
    if not is_name(choices.name):
        raise MovrelError(
            f"'{choices.name}' cannot be a name.",
            hint="Use letters, digits and _, beginning with a letter.",
        )
    if not choices.columns:
        raise MovrelError("no column is chosen.", hint="Choose at least one.")
    bad = [n for n in choices.columns.values() if not is_name(n)]
    if bad or len(set(choices.columns.values())) < len(choices.columns):
        raise MovrelError(
            f"'{(bad or list(choices.columns.values()))[0]}' cannot be the name of a signal."
        )
    lines = [f"block {choices.name} {quoted(f'Signals of {file.rpartition(chr(47))[2]}')}"]
    many = len(choices.columns)
    for k, (column, name) in enumerate(choices.columns.items()):
        said = choices.units.get(column, table.column(column).unit)
        unit = f"(unit={quoted(said)})" if said else ""
        y = round(100 - 200 * (k + 1) / (many + 1), 1)
        half = min(10.0, round(80 / many, 1))
        extent = f"{{{{{100 - half:g},{y - half:g}}},{{{100 + half:g},{y + half:g}}}}}"
        lines.append(
            f"  Movrel.Signals.SignalOut {name}{unit} annotation (Placement(transformation(extent={extent})));"
        )
    begun = {c: v for c, v in choices.before.items() if c in choices.columns}
    for column, given in begun.items():
        name = choices.columns[column]
        lines.append(f'  parameter Real {name}_before = {given!r} "{name} before the first row";')
    lines += [
        "protected",
        f'  parameter Real table[:, :] = Movrel.Tables.read({quoted(file)}) "Times in s, and values";',
        '  Movrel.Units.Time t "Time within the table";',
        "equation",
    ]
    last = "table[size(table, 1), 1]"
    lines.append(
        f"  t = table[1, 1] + mod(time - table[1, 1], {last} - table[1, 1]);"
        if choices.cyclic
        else "  t = time;"
    )
    for k, (column, name) in enumerate(choices.columns.items(), 2):
        value = f"Movrel.Tables.{_FUNCTION[choices.between]}(table, t, {k})"
        if column in begun:
            value = f"if time < table[1, 1] then {name}_before else {value}"
        lines.append(f"  {name} = {value};")
    labels = ",\n      ".join(
        f"Text(extent={{{{-60,{y - 8:g}}},{{92,{y + 8:g}}}}}, textString={quoted(name)}, "
        "horizontalAlignment=TextAlignment.Right)"
        for k, name in enumerate(choices.columns.values())
        for y in (round(100 - 200 * (k + 1) / (many + 1), 1),)
    )
    lines += [
        "  annotation (Icon(graphics={",
        "      Rectangle(extent={{-100,100},{100,-100}}, lineColor={40,44,60}, fillColor={255,255,255}, "
        "fillPattern=FillPattern.Solid),",
        "      Line(points={{-92,-60},{-70,0},{-52,-20},{-30,40}}, color={40,44,60}),",
        f"      {labels},",
        '      Text(extent={{-150,140},{150,104}}, textString="%name")}));',
        f"end {choices.name};",
    ]
    return "\n".join(lines)
