"""Lists of runs: the newest of a model, and pages of all of them by what somebody looks for."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from peewee import Case, Value, fn

from movrel.workspace.tables import Run

#: What lists show of a run; the rest can be large.
LISTED = (
    Run.id, Run.project, Run.model, Run.number, Run.name, Run.state, Run.progress, Run.time_reached, Run.reason, Run.place,
    Run.points, Run.created, Run.ended, Run.revisions, Run.scenario, Run.colour, Run.claims, Run.pinned, Run.note, Run.prediction,
    Run.prediction_held, Run.mark, Run.repeats, Run.checked_by,
)  # fmt: skip
#: What a person calls the states, for the filter.
STATES = {
    "waiting": ("queued",),
    "running": ("running", "stopping"),
    "done": ("done",),
    "failed": ("failed",),
    "stopped": ("stopped",),
}


def newest(project: int, model: str, limit: int = 200) -> list[Run]:
    """The newest runs of a model first."""
    return list(
        Run.select(*LISTED).where(_kept(project, model)).order_by(Run.id.desc()).limit(limit)
    )


def count(project: int, model: str) -> int:
    """How many runs a model has."""
    return int(Run.select(fn.COUNT(Run.id)).where(_kept(project, model)).scalar() or 0)


def last_of_each(project: int) -> dict[str, Run]:
    """The newest run of each model, but for those that only repeat another one."""
    own = _kept(project, None) & Run.repeats.is_null()
    ids = Run.select(fn.MAX(Run.id)).where(own).group_by(Run.model)
    return {run.model: run for run in Run.select(*LISTED).where(Run.id.in_(ids))}


def page(
    project: int,
    model: str | None,
    words: str = "",
    scenario: str = "",
    state: str = "",
    since: datetime | None = None,
    offset: int = 0,
    limit: int = 100,
) -> tuple[int, list[Run]]:
    """How many runs are as asked, and some of them: pinned ones first, then the newest.

    All ``words`` must stand in number, name, scenario, state, note or model; ``state`` is one of :data:`STATES`;
    without a ``model`` all of the project are looked through.
    """
    chosen = _kept(project, model)
    if scenario:
        chosen &= Run.scenario == scenario
    if state in STATES:
        chosen &= Run.state.in_(STATES[state])
    if since is not None:
        chosen &= Run.created >= since
    pinned = Case(None, [(Run.pinned, " pinned")], "")
    text = fn.LOWER(
        fn.CONCAT_WS(
            Value(" "), Run.number, Run.name, Run.scenario, Run.state, Run.note, Run.model, pinned
        )
    )
    for word in words.lower().split():
        chosen &= fn.STRPOS(text, word) > 0
    rows = (
        Run.select(*LISTED)
        .where(chosen)
        .order_by(Run.pinned.desc(), Run.id.desc())
        .offset(offset)
        .limit(limit)
    )
    return int(Run.select(fn.COUNT(Run.id)).where(chosen).scalar() or 0), list(rows)


def _kept(project: int, model: str | None) -> Any:
    chosen = (Run.project == project) & Run.deleted.is_null()
    return chosen & (Run.model == model) if model is not None else chosen
