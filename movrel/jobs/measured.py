"""What a worker's analyses have in common: measurements in a model's units, and figures in the units that are shown."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.residuals import Agreement
from movrel.errors import MovrelError
from movrel.exchange.table_files import MeasuredTable
from movrel.model.expression import Variable
from movrel.session import LoadedModel
from movrel.units import display_scale
from movrel.workspace.analyses import FitExperiment
from movrel.workspace.measurements import table_of

Array = npt.NDArray[np.float64]


def unit_of(model: LoadedModel, name: str) -> str:
    v = model.by_name.get(name.removesuffix(".start"))
    return v.unit if v is not None else ""


def rows_inside(
    table: MeasuredTable, name: str, low: float | None, high: float | None
) -> npt.NDArray[np.bool_]:
    """Which rows of a table lie between two instants, shape ``(n,)``. Raises :class:`MovrelError` for less than two."""
    low = -np.inf if low is None else low
    high = np.inf if high is None else high
    inside: npt.NDArray[np.bool_] = (table.instants >= low) & (table.instants <= high)
    if inside.sum() < 2:
        raise MovrelError(
            f"'{name}' has no samples between {low:g} s and {high:g} s.",
            hint=f"It reaches from {table.instants[0]:g} s to {table.instants[-1]:g} s.",
        )
    return inside


def data_of(project: int, model: LoadedModel, e: FitExperiment, notes: list[str]) -> MeasuredData:
    """The measurements of an experiment in the declared units of the model's variables."""
    table = table_of(project, e.file, e.steps)
    name = e.file.rpartition("/")[2]
    notes += [f"{name}: {note}" for note in table.notes]
    inside = rows_inside(table, name, e.low, e.high)

    def columns(mapping: dict[str, str]) -> dict[str, Array]:
        return {v: table.column(c).in_unit(unit_of(model, v))[inside] for c, v in mapping.items()}

    return MeasuredData(
        name, table.instants[inside], columns(e.outputs), columns(e.inputs), frozenset(e.held)
    )


@dataclass(frozen=True, slots=True)
class Shown:
    """How the values of a variable are shown: their unit, factor and offset from the declared one; the unit and factor of
    differences, which are in kelvins where the values are in degrees."""

    unit: str
    factor: float
    offset: float
    error_unit: str
    error_factor: float

    def values(self, given: Array) -> list[float]:
        """Values as they are shown."""
        return (self.factor * given + self.offset).tolist()

    def figures(self, a: Agreement) -> dict[str, Any]:
        """The figures of an output as they are shown."""
        errors = {"rmse": a.rmse, "mean_absolute": a.mean_absolute, "bias": a.bias}
        return asdict(a) | {name: self.error_factor * error for name, error in errors.items()}


def shown_as(v: Variable) -> Shown:
    """How the values of a variable are shown."""
    unit = v.display_unit or v.unit
    factor, offset = display_scale(v.unit, unit)
    of_errors = (v.unit, 1.0) if offset else (unit, factor)
    return Shown(unit, factor, offset, *of_errors)
