"""A unit of others run by itself, as a worker does it."""

from __future__ import annotations

from movrel.errors import MovrelError
from movrel.exchange.fmi.run_unit import UnitOptions, run_unit
from movrel.fmi.permission import check_permission
from movrel.workspace import foreign_units
from movrel.workspace.announce import announce
from movrel.workspace.tables import ProjectResource


def try_unit(number: int) -> None:
    """Run a unit with its default experiment; what it does wrong is kept as the reason."""
    kept = ProjectResource.get_or_none(ProjectResource.id == number)
    if kept is None:
        return
    foreign_units.keep_trial(number, state="running")
    try:
        unit = foreign_units.opened(number)
        check_permission(unit)
        interface = "cs" if "cs" in unit.description.interfaces else "me"
        content = foreign_units.trial_of(run_unit(unit, UnitOptions()), interface)
    except MovrelError as fault:
        content = {"state": "failed", "reason": fault.sentence()}
    foreign_units.keep_trial(number, **content)
    announce("foreign unit", unit=number, project=kept.project_id, state=content["state"])
