"""Where each variable of a model is found in the result table."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.equations.signal_units import signal_units
from movrel.equations.system import Sorted, System
from movrel.model.expression import Scalar, Variable
from movrel.simulate.trajectory import Column

Array = npt.NDArray[np.float64]


def result_columns(
    system: System | Sorted, parameters: dict[Variable, Scalar], p: Array
) -> list[Column]:
    """How every variable of the flat model is found in the result table."""
    position = {v: i for i, v in enumerate([*system.states, *system.solved])}
    inputs = dict(zip(system.parameters, p, strict=True))
    signals = signal_units(system.flat.variables, system.reduced)
    columns = []
    for v in system.flat.variables:
        if v.generated:
            continue

        def column(
            index: int | None,
            sign: int = 1,
            constant: float = 0.0,
            kind: str | None = None,
            v: Variable = v,
        ) -> Column:
            unit, shown = signals.get(v, (v.unit, v.display_unit))
            return Column(v.name, unit, shown, v.description, index, sign, constant, kind or v.type)

        if v.variability in ("parameter", "constant"):
            value = parameters[v]
            if not isinstance(value, str):
                columns.append(column(None, constant=float(value), kind="parameter"))
        elif v in position:
            columns.append(column(position[v]))
        elif v in system.reduced.aliases:
            alias = system.reduced.aliases[v]
            if alias.of in system.reduced.fixed:
                columns.append(column(None, constant=alias.sign * system.reduced.fixed[alias.of]))
            else:
                columns.append(column(position[alias.of], alias.sign))
        elif v in system.reduced.fixed:
            columns.append(column(None, constant=system.reduced.fixed[v]))
        elif v in inputs:
            columns.append(column(None, constant=float(inputs[v])))
    return columns
