"""A stored run as claims see it: curves are read when they are asked for."""

from __future__ import annotations

from functools import cached_property
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.analyse.claims import judge, read, read_expression, value_of
from movrel.analyse.curves import si
from movrel.analyse.measures import MEASURES, Measure
from movrel.analyse.quantity import Quantity
from movrel.errors import MovrelError
from movrel.workspace import results
from movrel.workspace.tables import Run

Array = npt.NDArray[np.float64]
#: States in which nothing more will be stored.
ENDED = ("done", "failed", "stopped")


class StoredCurves:
    """The curves and parameters of a run in the database."""

    def __init__(self, run: Run) -> None:
        self._run = run
        self._entries = {entry["name"]: entry for entry in run.catalogue}
        self._units: dict[str, tuple[str, str]] = {name: (u[0], u[1]) for name, u in run.parameter_units.items()}

    @cached_property
    def time(self) -> Array:
        return self._column(results.TIME)

    def names(self) -> list[str]:
        return [*self._entries, *self._run.parameters]

    def quantity(self, name: str) -> Quantity | None:
        entry = self._entries.get(name)
        if entry is not None:
            if entry["column"] is None:
                return si(float(entry["constant"]), entry["unit"], entry["display_unit"])
            values = self._column(entry["column"])[: len(self.time)]
            return si(values * entry["sign"] if entry["sign"] != 1 else values, entry["unit"], entry["display_unit"])
        value = self._run.parameters.get(name)
        if isinstance(value, int | float):
            return si(float(value), *self._units.get(name, ("", "")))
        return None

    def _column(self, number: int) -> Array:
        return results.column(self._run.id, number, self._run.points, self._run.state in ENDED)


def verdicts(run: Run) -> list[dict[str, Any]]:
    """The claims of a run with their verdicts; those that its scenario leaves out say so."""
    curves = StoredCurves(run)
    return [item | _verdict(item["text"], curves) if not item["off"] else item for item in run.claims]


def _verdict(text: str, curves: StoredCurves) -> dict[str, Any]:
    try:
        found = judge(read(text), curves)
    except MovrelError as fault:
        return {"holds": None, "reason": fault.message}
    return {
        "holds": found.holds, "value": found.value, "limit": found.limit, "margin": found.margin, "unit": found.unit,
        "instant": found.instant, "reason": found.reason,
    }  # fmt: skip


#: Measures that need no further argument, in the order in which they are listed.
LISTED = [m for m in MEASURES.values() if m.name not in ("at", "crossing", "initial")]


def measure_table(run: Run, names: list[str], low: float | None, high: float | None) -> list[dict[str, Any]]:
    """All measures of some curves over the whole run or between two instants."""
    curves = StoredCurves(run)
    bounds = "".join(f", {word}={value!r}" for word, value in (("from", low), ("to", high)) if value is not None)
    return [{"name": name, "measures": [_measured(curves, m, name, bounds) for m in LISTED]} for name in names]


def _measured(curves: StoredCurves, measure: Measure, name: str, bounds: str) -> dict[str, Any]:
    found: dict[str, Any] = {"measure": measure.name, "words": measure.words, "value": None, "unit": "", "reason": ""}
    try:
        found["value"], found["unit"] = value_of(read_expression(f"{measure.name}({name}{bounds})"), curves)
    except MovrelError as fault:
        found["reason"] = fault.message
    return found
