"""Runs of the database as they are shown."""

from __future__ import annotations

from dataclasses import fields

from movrel.units import display_scale
from movrel.views.run_data import JudgedClaim, RunDetail, RunEvent, RunState, RunVariable, RunView
from movrel.workspace.tables import Run


def run_view(run: Run) -> RunView:
    """A run without its variables."""
    return RunView(
        id=run.id,
        project=run.project_id,
        model=run.model,
        number=run.number,
        name=run.name,
        state=RunState(run.state),
        progress=run.progress,
        time_reached=run.time_reached,
        reason=run.reason,
        place=run.place,
        points=run.points,
        created=run.created.isoformat() + "Z",
        ended=run.ended.isoformat() + "Z" if run.ended else None,
        revisions=run.revisions,
        mark=run.mark,
        scenario=run.scenario,
        colour=run.colour,
        claims=[JudgedClaim(**claim) for claim in run.claims],
        pinned=run.pinned,
        note=run.note,
        prediction=run.prediction,
        prediction_held=run.prediction_held,
        repeats=run.repeats,
        checked_by=run.checked_by,
    )


def run_detail(run: Run) -> RunDetail:
    """A run with its variables, events, messages and statistics."""
    view = run_view(run)
    return RunDetail(
        **{f.name: getattr(view, f.name) for f in fields(RunView)},
        variables=[_variable(**entry) for entry in run.catalogue],
        layout=run.layout,
        events=[RunEvent(e["time"], e["cause"]) for e in run.events],
        messages=run.messages,
        statistics=run.statistics,
        parameters=run.parameters,
        changes=run.changes,
        options=run.options,
    )


def _variable(
    name: str, unit: str, display_unit: str, description: str, **_: object
) -> RunVariable:
    shown = display_unit or unit
    return RunVariable(name, unit, shown, *display_scale(unit, shown), description)
