"""A run in memory as claims see it."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.analyse.quantity import Quantity
from movrel.errors import UnitFault
from movrel.model.expression import Scalar, Variable
from movrel.model.flat import FlatModel
from movrel.simulate.trajectory import Trajectory
from movrel.units import unit

Array = npt.NDArray[np.float64]


def si(values: Array | float, symbol: str, shown: str = "") -> Quantity:
    """Values in a declared unit as a quantity in SI; an unknown unit counts as none."""
    try:
        u = unit(symbol)
        wanted = unit(shown or symbol)
    except UnitFault:
        return Quantity(values)
    fitting = (shown or symbol) if wanted.dimension == u.dimension else symbol
    changed = values if u.factor == 1 and not u.offset else values * u.factor + u.offset
    return Quantity(changed, u.dimension, fitting if fitting != "1" else "")


class RunCurves:
    """The curves and parameters of a trajectory."""

    def __init__(self, run: Trajectory) -> None:
        self._run = run
        self._columns = {c.name: c for c in run.columns}

    @property
    def time(self) -> Array:
        return self._run.time

    def names(self) -> list[str]:
        return list(self._columns)

    def event_times(self) -> Array:
        return np.array([event.time for event in self._run.events])

    def quantity(self, name: str) -> Quantity | None:
        column = self._columns.get(name)
        if column is None:
            return None
        if column.column is None:
            return si(float(column.constant), column.unit, column.display_unit)
        return si(self._run[name], column.unit, column.display_unit)


class StandIn:
    """A made-up run of a model that swings and drifts, to see whether a claim can be judged at all."""

    def __init__(self, flat: FlatModel, parameters: dict[Variable, Scalar]) -> None:
        self.time: Array = np.linspace(0.0, 1.0, 201)
        self._curve = 2.0 + np.sin(40.0 * self.time) * np.exp(-self.time) + 0.1 * self.time
        self._variables = flat.by_name()
        self._parameters = parameters

    def names(self) -> list[str]:
        return list(self._variables)

    def event_times(self) -> Array:
        return np.array([])

    def quantity(self, name: str) -> Quantity | None:
        v = self._variables.get(name)
        if v is None:
            return None
        value = self._parameters.get(v)
        fixed = v.variability in ("parameter", "constant") and isinstance(value, int | float)
        return si(float(value) if fixed else self._curve, v.unit, v.display_unit)  # type: ignore[arg-type]
