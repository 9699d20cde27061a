"""What a model gives for the outputs of one experiment, driven by its measured inputs."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from movrel.analyse.exact_runs import ExactRuns, is_smooth
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.tangents import has_tangents
from movrel.analyse.traced_runs import TracedRuns
from movrel.errors import MovrelError, did_you_mean
from movrel.session import LoadedModel


def check_data(model: LoadedModel, data: MeasuredData) -> None:
    """Raise :class:`MovrelError` for measurements that cannot be compared with a model."""
    if len(data.time) < 2 or not (np.diff(data.time) > 0).all():
        raise MovrelError(f"the times of '{data.name}' do not rise.")
    for name, values in data.outputs.items():
        v = model.by_name.get(name)
        if v is None or v.variability in ("parameter", "constant"):
            raise MovrelError(
                f"the model has no variable '{name}' to compare with.",
                hint=did_you_mean(name, [u.name for u in model.flat.unknowns()], ""),
            )
        if not np.isfinite(values).any():
            raise MovrelError(f"'{name}' of '{data.name}' holds no numbers.")


def experiment_with(
    model: LoadedModel, data: MeasuredData, names: Sequence[str]
) -> ExactRuns | TracedRuns:
    """One experiment with a model; ``names`` are parameters and start values (``oil.T.start``) that will be given.

    A model without events that is driven by measured inputs, or is large, has its sensitivities solved together with it, from
    sample to sample; any other one is run by its own solver, and they are worked out along that.
    """
    exact = is_smooth(model) and (data.inputs or not has_tangents(model.system))
    return (ExactRuns if exact else TracedRuns)(model, data, names)
