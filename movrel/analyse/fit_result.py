"""The result of a fit, and how it is written."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
import numpy.typing as npt

from movrel.analyse.residuals import Agreement

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Fitted:
    """The value of a parameter, with its interval; ``at_bound`` says which bound it ran into."""

    name: str
    value: float
    low: float
    high: float
    deviation: float
    at_bound: str = ""
    experiment: str = ""


@dataclass(slots=True)
class FitResult:
    """``before`` and ``after`` are figures by experiment and output."""

    parameters: list[Fitted]
    correlation: list[list[float]]
    before: dict[str, dict[str, Agreement]]
    after: dict[str, dict[str, Agreement]]
    #: What the data cannot determine, in words.
    undetermined: list[str]
    notes: list[str]
    runs: int
    seconds: float
    cost: float
    #: What the model gives at the start and at the end, by experiment and output.
    first_predictions: dict[str, dict[str, Array]] = field(default_factory=dict)
    predictions: dict[str, dict[str, Array]] = field(default_factory=dict)
    #: Figures of what was held back, by experiment and output.
    checked: dict[str, dict[str, Agreement]] = field(default_factory=dict)

    def values(self) -> dict[str, float]:
        """The values of parameters that are shared by all experiments."""
        return {p.name: p.value for p in self.parameters if not p.experiment}


def as_json(result: FitResult) -> dict[str, Any]:
    """What ``movrel fit`` writes."""
    return {
        "parameters": {
            p.name if not p.experiment else f"{p.name} ({p.experiment})": {
                "value": p.value, "low": p.low, "high": p.high, "deviation": p.deviation, "at_bound": p.at_bound,
            }
            for p in result.parameters
        },
        "rmse": _errors(result.after),
        "fit": {o: a.fit for figures in result.after.values() for o, a in figures.items()},
        "correlation": result.correlation, "undetermined": result.undetermined, "notes": result.notes,
        "runs": result.runs, "seconds": round(result.seconds, 3),
    } | ({"rmse_held_back": _errors(result.checked)} if result.checked else {})  # fmt: skip


def _errors(figures: dict[str, dict[str, Agreement]]) -> dict[str, float]:
    """Root mean square errors by output, and by experiment where there are several."""
    return {
        output if len(figures) == 1 else f"{experiment}: {output}": a.rmse
        for experiment, of in figures.items()
        for output, a in of.items()
    }
