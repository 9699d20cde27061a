"""What a model gives for the outputs of one experiment, driven by its measured inputs."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

import numpy as np
import numpy.typing as npt

from movrel.analyse.exact_runs import ExactRuns
from movrel.analyse.measured_model import MeasuredData, MeasuredModel, driven
from movrel.errors import MovrelError, did_you_mean
from movrel.session import LoadedModel

Array = npt.NDArray[np.float64]

#: Tolerance of the runs that are compared.
TOLERANCE = 1e-8


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


class Experiment:
    """One experiment with a model; ``names`` are parameters and start values (``oil.T.start``) that will be given.

    A ``smooth`` model is run by the exact equations of its sensitivities, another one by its own solver.
    """

    def __init__(
        self, model: LoadedModel, data: MeasuredData, names: Sequence[str], smooth: bool
    ) -> None:
        self.data = data
        #: Exact runs, None where the model has events.
        self.exact: ExactRuns | None = None
        self._driven: MeasuredModel | None = None
        if smooth:
            self.exact = ExactRuns(model, data, names)
        else:
            self._driven = driven(model, data, [n for n in names if n.endswith(".start")])

    def predicted(self, values: Mapping[str, float]) -> dict[str, Array]:
        """The outputs at the instants of the experiment, each of shape ``(n,)``. Raises whatever a run raises."""
        if self.exact is not None:
            return self.exact.run(values)
        assert self._driven is not None
        d, m = self.data, self._driven
        run = m.loaded.simulate(
            start=float(d.time[0]), stop=float(d.time[-1]), interval=self._interval(), tolerance=TOLERANCE,
            set={m.place(k): v for k, v in values.items()},
        )  # fmt: skip
        return {o: np.interp(d.time, run.time, run[f"plant.{o}"]) for o in d.outputs}

    def _interval(self) -> float:
        """The distance of output points: that of even samples, else a fraction of the usual one."""
        steps = np.diff(self.data.time)
        usual = float(np.median(steps))
        even = bool((np.abs(steps - usual) <= 1e-6 * usual).all())
        return usual if even else usual / 4
