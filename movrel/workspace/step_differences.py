"""A rig at its step and at half of it, as two runs that are kept."""

from __future__ import annotations

from typing import cast

from movrel.couple.rig import cut, settings_of
from movrel.couple.step_check import StepDifference, differences
from movrel.edits.scenario_model import with_changes
from movrel.errors import MovrelError
from movrel.simulate.options import RunSettings
from movrel.workspace import projects, runs
from movrel.workspace.stored_run import StoredRun
from movrel.workspace.tables import Run

#: What such a run is a run of, beside the scenarios.
HALF = "half the step"


def order_half(number: int) -> Run:
    """Put the same run at half the communication step on record. Raises :class:`MovrelError` where it is no rig."""
    run = runs.run(number)
    texts = projects.snapshot(run.project_id, run.revisions)
    coupling = settings_of(with_changes(texts, run.model, run.changes, {}).loaded)
    if coupling is None:
        raise MovrelError("this run is of one model, which has no communication step.")
    step = 0.5 * float(run.options.get("step") or coupling.step)
    options = cast(RunSettings, run.options | {"step": step})
    made = runs.order(run.project_id, run.model, options, run.scenario)
    runs.describe(made.id, f"{run.name} · half the step", None, None, None)
    # It says nothing new of the scenario, so it does not count as its newest run.
    Run.update(scenario=HALF).where(Run.id == made.id).execute()
    return runs.run(made.id)


def step_differences(one: int, other: int) -> list[StepDifference]:
    """How much each signal differs between two runs of a rig, the largest first. Raises :class:`MovrelError`."""
    run = runs.run(one)
    texts = projects.snapshot(run.project_id, run.revisions)
    rig = cut(with_changes(texts, run.model, run.changes, {}).loaded)
    coarse, fine = StoredRun.of(one), StoredRun.of(other)
    if not len(coarse.time) or not len(fine.time):
        raise MovrelError("one of the runs has no points.")
    known = set(coarse.names()) & set(fine.names())
    return differences([c for c in rig.connections if c.source.name in known], coarse, fine)
