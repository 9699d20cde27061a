"""A quick run while somebody drags a value: nothing is stored, and what takes too long is given up."""

from __future__ import annotations

import time as clock
from typing import Any

from movrel.errors import MovrelError, RunCancelled
from movrel.simulate.recording import Listener
from movrel.workspace import projects, results, scenarios

#: Seconds after which a run is too slow to follow a hand, and output points of it.
PATIENCE, POINTS = 1.5, 600


def curves(project: int, model: str, scenario: str, values: dict[str, float], names: list[str]) -> list[dict[str, Any]]:
    """The curves of some variables for other values of parameters, in declared units.

    Raises :class:`MovrelError` when the model cannot be run like that, or not fast enough.
    """
    taken = projects.snapshot(project)
    asked = scenarios.scenario(taken, model, scenario)
    applied = scenarios.applied(taken, model, {k: v for k, v in asked.changes.items() if k not in values}, asked.settings)
    loaded = applied.loaded
    experiment = loaded.flat.experiment
    options = dict(applied.options)
    start, stop = options.get("start", experiment.start), options.get("stop", experiment.stop)
    if start is not None and stop is not None and stop > start:
        shown = (stop - start) / POINTS
        options["interval"] = max(shown, options.get("interval") or 0.0)
    deadline = clock.monotonic() + PATIENCE
    listener = Listener(stopped=lambda: clock.monotonic() > deadline, period=0.02)
    try:
        run = loaded.prepare(set=applied.values | values, listener=listener, **options).go()
    except RunCancelled:
        raise MovrelError(
            "the model is too slow to follow the slider.", hint="Let go; then it is run in the background."
        ) from None
    known = {c.name: c for c in run.columns}
    found = []
    for name in names:
        if name not in known:
            continue
        t, y = results.thin(run.time, run[name].astype(float), POINTS, None, None)
        found.append({"name": name, "unit": known[name].unit, "time": t.tolist(), "values": y.tolist()})
    return found
