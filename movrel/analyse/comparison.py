"""Several models beside the same measurements: what each gives, and which comes closest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from movrel.analyse.experiment import check_data, experiment_with
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.residuals import Agreement, agreement
from movrel.session import LoadedModel

Array = npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True)
class Rival:
    """What a model gives: predictions and figures by output; the starts that were taken from the first samples."""

    predictions: dict[str, Array]
    figures: dict[str, Agreement]
    starts: dict[str, float]

    @property
    def error(self) -> float:
        """The error by which rivals are ranked: the root mean square of each output as a share of how much what was measured
        deviates from its mean, averaged over the outputs."""
        return float(np.mean([1.0 - a.fit / 100.0 for a in self.figures.values()]))


def compared(
    model: LoadedModel, data: MeasuredData, values: Mapping[str, float], from_samples: bool
) -> Rival:
    """Run a model with measured inputs and compare it with measured outputs.

    ``values`` are parameters that differ from the model's own. With ``from_samples`` outputs that are states begin at their
    first samples. Raises :class:`MovrelError` for names that do not fit, and where the run fails.
    """
    check_data(model, data)
    starts = _first_samples(model, data) if from_samples else {}
    experiment = experiment_with(model, data, list(starts))
    predictions = experiment.run({**values, **starts})
    figures = {o: agreement(np.asarray(y, float), predictions[o]) for o, y in data.outputs.items()}
    return Rival(predictions, figures, starts)


def _first_samples(model: LoadedModel, data: MeasuredData) -> dict[str, float]:
    """The first sample of each output that is a state, by the place of its start value."""
    states = {v.name for v in model.ordered.states}
    first: dict[str, float] = {}
    for name, measured in data.outputs.items():
        v = model.by_name[name]
        values = np.asarray(measured, float)
        if v.name in states:
            first[f"{v.name}.start"] = float(values[np.isfinite(values)][0])
    return first
