"""Columns of measurements as quantities that stand on strips beside those of runs: by name, in SI units."""

from __future__ import annotations

import hashlib

import numpy as np
import orjson

from movrel.analyse.sampling import thin
from movrel.errors import MovrelError
from movrel.exchange.table_files import MeasuredTable, TableColumn
from movrel.sized_cache import SizedCache
from movrel.units import display_scale, si_unit
from movrel.views.run_data import Curve, RunVariable
from movrel.workspace.measurements import DataFile, data_files, table_of
from movrel.workspace.resources import by_path

#: Between a file and its column.
SEPARATOR = ":"
#: Bytes of tables that are kept.
KEPT = 60_000_000
_tables: SizedCache[MeasuredTable] = SizedCache(
    KEPT, lambda table: sum(c.values.nbytes for c in table.columns)
)


def measured_columns(project: int) -> list[RunVariable]:
    """The columns of all measurements of a project, named by file and column; files that cannot be read have none."""
    columns: list[RunVariable] = []
    for file in data_files(project):
        try:
            table = _table(project, file)
        except MovrelError:
            continue
        for k, c in enumerate(table.columns):
            if k != table.time:
                unit = _declared(c)
                scale = display_scale(unit, c.unit) if c.unit else (1.0, 0.0)
                name = f"{file.path}{SEPARATOR}{c.name}"
                columns.append(RunVariable(name, unit, c.unit, *scale, f"measured, {file.name}"))
    return columns


def measured_curves(
    project: int, names: list[str], width: int, low: float | None, high: float | None
) -> list[Curve]:
    """Columns by their names, thinned for ``width`` pixels; those that are not there any more are left out."""
    curves: list[Curve] = []
    for file in data_files(project):
        wanted = {
            n.removeprefix(f"{file.path}{SEPARATOR}"): n
            for n in names
            if n.startswith(f"{file.path}{SEPARATOR}")
        }
        if not wanted:
            continue
        try:
            table = _table(project, file)
        except MovrelError:
            continue
        for c in table.columns:
            if c.name in wanted:
                unit = _declared(c)
                values = c.in_unit(unit)
                good = np.isfinite(values)
                t, y = thin(table.instants[good], values[good], width, low, high)
                curves.append(Curve(wanted[c.name], unit, t.tolist(), y.tolist()))
    return curves


def _declared(c: TableColumn) -> str:
    return si_unit(c.unit) if c.unit else ""


def _table(project: int, file: DataFile) -> MeasuredTable:
    kept = by_path(project, file.path)
    steps = kept.steps if kept is not None else []
    joined = [by_path(project, s["file"]) for s in steps if s["do"] == "join"]
    contents = [k.digest for k in (kept, *joined) if k is not None]
    mark = hashlib.sha256(orjson.dumps([file.path, contents, steps])).hexdigest()
    return _tables.get(mark, lambda: table_of(project, file.path, steps))
