"""Values beyond their declared ``min`` and ``max``: said once for each variable, with value and time."""

from __future__ import annotations

import numpy as np
import numpy.typing as npt

from movrel.equations.system import System
from movrel.model import expression as x
from movrel.model.expression import Scalar, Variable

Array = npt.NDArray[np.float64]

#: Messages of one run at most, and how many tolerances of its largest value a variable may lie beyond.
MESSAGES, SLACK = 20, 10.0


class Limits:
    """The limits of the variables of one system, as columns of states and solved unknowns."""

    def __init__(
        self, system: System, parameters: dict[Variable, Scalar], position: dict[Variable, int], tolerance: float
    ) -> None:  # fmt: skip
        self._slack = SLACK * tolerance
        self._told: set[tuple[int, int]] = set()
        rows: list[tuple[Variable, int, float, float, float]] = []
        for v in system.flat.variables:
            if (v.minimum is None and v.maximum is None) or v.type not in ("Real", "Integer"):
                continue
            alias = system.reduced.aliases.get(v)
            at = position.get(alias.of if alias is not None else v)
            if at is None:
                continue
            low, high = (number_of(e, parameters) for e in (v.minimum, v.maximum))
            rows.append(
                (
                    v,
                    at,
                    float(alias.sign) if alias is not None else 1.0,
                    -np.inf if low is None else low,
                    np.inf if high is None else high,
                )
            )
        self._variables = [row[0] for row in rows]
        self._columns = np.array([row[1] for row in rows], int)
        self._signs = np.array([row[2] for row in rows])
        self._low = np.array([row[3] for row in rows])
        self._high = np.array([row[4] for row in rows])

    def broken(self, times: Array, table: Array) -> list[str]:
        """What lies beyond its limits for the first time, in sentences; ``table`` has shape ``(instants, columns)``."""
        if not len(self._columns) or not len(times) or len(self._told) >= MESSAGES:
            return []
        values = table[:, self._columns] * self._signs
        largest = np.abs(values).max(axis=0)
        said: list[str] = []
        for side, bound, word in (
            (0, self._low, "below its min"),
            (1, self._high, "above its max"),
        ):
            beyond = (bound - values if side == 0 else values - bound) > self._slack * np.fmax(
                largest, np.where(np.isfinite(bound), np.abs(bound), 0.0)
            )
            for k in np.nonzero(beyond.any(axis=0))[0].tolist():
                if (k, side) in self._told or len(self._told) >= MESSAGES:
                    continue
                self._told.add((k, side))
                at = int(np.argmax(beyond[:, k]))
                v = self._variables[k]
                unit = f" {v.unit}" if v.unit not in ("", "1") else ""
                said.append(
                    f"'{v.name}' is {values[at, k]:g}{unit} at {times[at]:g} s, {word} {bound[k]:g}{unit}."
                )
        return said


def number_of(e: x.Expr | None, parameters: dict[Variable, Scalar]) -> float | None:
    """The value of an attribute, None where none is given or it cannot be worked out."""
    if e is None:
        return None
    try:
        return float(x.evaluate(e, parameters))
    except (ArithmeticError, ValueError, KeyError, TypeError):
        return None
