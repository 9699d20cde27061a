"""Making a unit of a model: what a worker does with an order."""

from __future__ import annotations

from typing import Any

from movrel.errors import MovrelError
from movrel.exchange.fmi.export import export_unit
from movrel.workspace import unit_exports
from movrel.workspace.announce import announce
from movrel.workspace.tables import UnitExport


def make(number: int) -> None:
    """Make the unit of an order; what cannot be made fails with its reason."""
    order = UnitExport.get_or_none(UnitExport.id == number)
    if order is None or order.state in ("done", "failed"):
        return
    UnitExport.update(state="running").where(UnitExport.id == number).execute()
    try:
        model, options, left_out = unit_exports.prepared(order)
        made = export_unit(model, options)
    except MovrelError as fault:
        changes: dict[str, Any] = {"state": "failed", "reason": fault.sentence()}
    else:
        changes = {
            "state": "done",
            "notes": [*made.notes, *(f"Left out of the scenario: {text}." for text in left_out)],
            "summary": unit_exports.summary_of(made.description),
            "content": made.archive,
        }
    UnitExport.update(**changes).where(UnitExport.id == number).execute()
    announce(
        "unit", unit=number, project=order.project_id, model=order.model, state=changes["state"]
    )
