"""The parameters of a run: worked out from the text and the settings, and judged before it begins."""

from __future__ import annotations

import math

import numpy as np
import numpy.typing as npt

from movrel.equations.judging import broken
from movrel.equations.parameters import (
    affected_by,
    broken_limit,
    parameter_values,
    parameter_vector,
)
from movrel.equations.system import System
from movrel.errors import StructureFault
from movrel.model.expression import Scalar, Variable

Array = npt.NDArray[np.float64]


def parameters_of(
    system: System, settings: dict[str, float]
) -> tuple[dict[Variable, Scalar], Array]:
    """All parameter values and the vector of them; what the settings do not touch is known already."""

    def written() -> tuple[dict[Variable, Scalar], Array]:
        values = parameter_values(system.flat, {})
        return values, parameter_vector(system.parameters, values)

    if not settings:
        values, p = system.once("written values", written)
        return dict(values), p.copy()
    try:
        texts, p = system.once("written values", written)
    except StructureFault:  # a value may be missing in the text that is set for this run
        values = parameter_values(system.flat, settings)
        return values, parameter_vector(system.parameters, values)
    touched = set(affected_by(system.flat, settings))
    values = parameter_values(
        system.flat, settings, {k: v for k, v in texts.items() if k not in touched}
    )
    p = p.copy()
    for i, v in enumerate(system.parameters):
        if v in touched:
            p[i] = float(values[v])
    return values, p


def judged(system: System, values: dict[Variable, Scalar], p: Array) -> list[str]:
    """What assertions warn of before a run.

    Raises :class:`StructureFault` for a value beyond its limits or not finite, and for an assertion that
    the parameters break.
    """
    limited = system.once(
        "limited parameters",
        lambda: [
            v for v in system.flat.parameters() if v.minimum is not None or v.maximum is not None
        ],
    )
    for v in limited if np.isfinite(p).all() else system.flat.parameters():
        value, limit = values[v], broken_limit(v, values)
        if limit is not None:
            unit = f" {v.unit}" if v.unit else ""
            raise StructureFault(
                f"'{v.name}' is {value:g}{unit}; its {limit[0]} is {limit[1]:g}{unit}.",
                v.where,
                "Give a value within its limits.",
            )
        if not isinstance(value, str) and not math.isfinite(float(value)):
            raise StructureFault(f"the value of '{v.name}' is {value}.", v.where)
    for v, number in system.reduced.fixed.items():
        if not math.isfinite(number):
            raise StructureFault(
                f"'{v.name}' is {number}: its value is not a number that can be computed with.",
                v.where,
            )
    doubts = []
    for a, message in broken(
        system.once("start assertions", lambda: system.start_assertions), values
    ):
        text = f"{a.component}: {message}." if a.component else f"{message}."
        if a.level == "error":
            raise StructureFault(text, a.where)
        doubts.append(text)
    return doubts
