"""Where each variable of a model is found in the result table."""

from __future__ import annotations

from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.equations.system import Sorted, System
from movrel.simulate.trajectory import Column

Array = npt.NDArray[np.float64]


def result_columns(system: System | Sorted, parameters: dict[int, Any], p: Array) -> list[Column]:
    """How every variable of the flat model is found in the result table."""
    position = {id(v): i for i, v in enumerate([*system.states, *system.solved])}
    inputs = dict(zip(map(id, system.parameters), p, strict=True))
    columns = []
    for v in system.flat.variables:
        if v.generated:
            continue

        def column(
            index: int | None,
            sign: int = 1,
            constant: float = 0.0,
            kind: str | None = None,
            v: Any = v,
        ) -> Column:
            return Column(
                v.name, v.unit, v.display_unit, v.description, index, sign, constant, kind or v.type
            )

        key = id(v)
        if v.variability in ("parameter", "constant"):
            value = parameters[key]
            if not isinstance(value, str):
                columns.append(column(None, constant=float(value), kind="parameter"))
        elif key in position:
            columns.append(column(position[key]))
        elif key in system.reduced.aliases:
            alias = system.reduced.aliases[key]
            if id(alias.of) in system.reduced.fixed:
                columns.append(
                    column(None, constant=alias.sign * system.reduced.fixed[id(alias.of)])
                )
            else:
                columns.append(column(position[id(alias.of)], alias.sign))
        elif key in system.reduced.fixed:
            columns.append(column(None, constant=system.reduced.fixed[key]))
        elif key in inputs:
            columns.append(column(None, constant=float(inputs[key])))
    return columns
