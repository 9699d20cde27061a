"""A quick run while somebody drags a value: nothing is stored, and what takes too long is given up."""

from __future__ import annotations

import time as clock
from typing import Any

from movrel.analyse.sampling import thin
from movrel.couple.rig import settings_of
from movrel.edits.scenario_model import scenario_of, with_changes
from movrel.errors import MovrelError, RunCancelled
from movrel.project.snapshot import Snapshot
from movrel.simulate.recording import Listener
from movrel.views.run_data import Curve

#: Seconds after which a run is too slow to follow a hand, and output points of it.
PATIENCE, POINTS = 1.5, 600


def preview(
    snapshot: Snapshot, model: str, scenario: str, values: dict[str, float], names: list[str]
) -> list[Curve]:
    """The curves of some variables for other values of parameters, in declared units.

    Raises :class:`MovrelError` when the model cannot be run like that, or not fast enough.
    """
    asked = scenario_of(snapshot, model, scenario)
    changes = {k: v for k, v in asked.changes.items() if k not in values}
    prepared = with_changes(snapshot, model, changes, asked.settings)
    loaded = prepared.loaded
    if settings_of(loaded) is not None:
        raise MovrelError(
            "a rig does not follow the slider.", hint="Let go; then it is run in the background."
        )
    experiment = loaded.flat.experiment
    options: dict[str, Any] = dict(prepared.options)
    start, stop = options.get("start", experiment.start), options.get("stop", experiment.stop)
    if start is not None and stop is not None and stop > start:
        options["interval"] = max((stop - start) / POINTS, options.get("interval") or 0.0)
    deadline = clock.monotonic() + PATIENCE
    listener = Listener(stopped=lambda: clock.monotonic() > deadline, period=0.02)
    try:
        run = loaded.prepare(set=prepared.values | values, listener=listener, **options).go()
    except RunCancelled:
        raise MovrelError(
            "the model is too slow to follow the slider.",
            hint="Let go; then it is run in the background.",
        ) from None
    columns = {c.name: c for c in run.columns}
    curves = []
    for name in names:
        if name in columns:
            t, y = thin(run.time, run[name].astype(float), POINTS, None, None)
            curves.append(Curve(name, columns[name].unit, t.tolist(), y.tolist()))
    return curves
