"""Making a unit of a model: what a worker does with an order."""

from __future__ import annotations

from typing import Any

from movrel.errors import MovrelError
from movrel.exchange.fmi.export import export_unit
from movrel.project.snapshot import loaded_model
from movrel.workspace import projects, unit_exports
from movrel.workspace.announce import announce
from movrel.workspace.tables import UnitExport


def make(number: int) -> None:
    """Make the unit of an order; what cannot be made fails with its reason."""
    order = UnitExport.get_or_none(UnitExport.id == number)
    if order is None or order.state in ("done", "failed"):
        return
    UnitExport.update(state="running").where(UnitExport.id == number).execute()
    try:
        texts = projects.snapshot(order.project_id, order.revisions)
        made = export_unit(loaded_model(texts, order.model), unit_exports.choices_of(order))
    except MovrelError as fault:
        changes: dict[str, Any] = {"state": "failed", "reason": fault.sentence()}
    else:
        changes = {
            "state": "done",
            "notes": made.notes,
            "summary": unit_exports.summary_of(made.description),
            "content": made.archive,
        }
    UnitExport.update(**changes).where(UnitExport.id == number).execute()
    announce(
        "unit", unit=number, project=order.project_id, model=order.model, state=changes["state"]
    )
