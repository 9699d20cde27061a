"""Models beside the same measurements: what a worker does with the order of a comparison."""

from __future__ import annotations

from typing import Any

import numpy as np

from movrel.analyse.comparison import Rival, compared
from movrel.analyse.measured_model import MeasuredData
from movrel.analyse.residuals import accumulated
from movrel.analyse.sampling import thin
from movrel.edits.scenario_model import scenario_of, with_changes
from movrel.errors import MovrelError
from movrel.jobs.measured import Shown, data_of, shown_as
from movrel.project.snapshot import Snapshot
from movrel.workspace.analyses import Candidate, FitExperiment
from movrel.workspace.announce import announce
from movrel.workspace.tables import Analysis

#: Points of a curve that are kept.
POINTS = 500


def compare(order: Analysis, texts: Snapshot) -> dict[str, Any]:
    """Run all candidates, the best first; one that fails is last, with its reason."""
    experiment = FitExperiment(**order.asked["experiment"])
    ranking: list[tuple[float, dict[str, Any]]] = []
    curves: dict[str, dict[str, Any]] = {}
    shown: dict[str, Shown] = {}  # the same for all candidates
    notes: list[str] = []
    candidates = [Candidate(**c) for c in order.asked["candidates"]]
    for number, candidate in enumerate(candidates):
        name = f"{candidate.model.rpartition('.')[2]}, {candidate.scenario}"
        entry: dict[str, Any] = {
            "name": name, "model": candidate.model, "scenario": candidate.scenario,
            "figures": [], "starts": {}, "error": None, "failure": "",
        }  # fmt: skip
        ranking.append((np.inf, entry))
        try:
            scenario = scenario_of(texts, candidate.model, candidate.scenario)
            made = with_changes(texts, candidate.model, scenario.changes, scenario.settings)
            said: list[str] = []
            data = data_of(order.project_id, made.loaded, candidate.own(experiment), said)
            notes = said
            rival = compared(made.loaded, data, made.values, order.asked["from_samples"])
        except MovrelError as fault:
            entry["failure"] = fault.sentence()
        else:
            # All are shown by the names of the experiment.
            common = {candidate.variables.get(v, v): v for v in experiment.outputs.values()}
            for o in rival.figures:
                shown.setdefault(common[o], shown_as(made.loaded.by_name[o]))
            entry |= {
                "error": rival.error, "starts": rival.starts,
                "figures": [
                    shown[common[o]].figures(a)
                    | {"variable": common[o], "unit": shown[common[o]].error_unit, "white": a.white}
                    for o, a in rival.figures.items()
                ],
            }  # fmt: skip
            ranking[-1] = rival.error if np.isfinite(rival.error) else np.inf, entry
            _add_curves(curves, name, shown, common, data, rival)
        progress = {"candidates": number + 1, "of": len(candidates)}
        Analysis.update(progress=progress).where(Analysis.id == order.id).execute()
        announce("analysis", analysis=order.id, project=order.project_id, model=order.model, state="running")  # fmt: skip
    if not curves:
        raise MovrelError(" ".join(f"{e['name']}: {e['failure']}" for _, e in ranking))
    ranking.sort(key=lambda entry: entry[0])
    return {
        "ranking": [entry for _, entry in ranking], "outputs": list(curves.values()), "notes": notes,
    }  # fmt: skip


def _add_curves(
    curves: dict[str, dict[str, Any]],
    name: str,
    units: dict[str, Shown],
    common: dict[str, str],
    data: MeasuredData,
    rival: Rival,
) -> None:
    """Predicted, and the integral of the absolute error, beside what was measured."""
    for own, measured in data.outputs.items():
        o = common[own]
        shown = units[o]
        values = np.asarray(measured, float)
        good = np.isfinite(values)
        if o not in curves:
            t, y = thin(data.time[good], values[good], POINTS, None, None)
            curves[o] = {
                "variable": o, "unit": shown.unit, "error_unit": shown.error_unit, "time": t.tolist(),
                "measured": shown.values(y), "rivals": [],
            }  # fmt: skip
        at = np.array(curves[o]["time"])
        predicted = rival.predictions[own]
        off = accumulated(data.time[good], values[good], predicted[good])
        curves[o]["rivals"].append(
            {
                "name": name, "predicted": shown.values(np.interp(at, data.time, predicted)),
                "accumulated": (shown.error_factor * np.interp(at, data.time[good], off)).tolist(),
            }
        )  # fmt: skip
