"""Making a unit of a model: what a worker does with an order."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from movrel.couple.as_ssp import ssp_of
from movrel.couple.as_unit import unit_of_model
from movrel.couple.rig import prepare_rig, settings_of
from movrel.errors import MovrelError
from movrel.project.rig_settings import RigSettings
from movrel.sheet.drawing import sheet
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
        changes = _rig(order) if order.choices.get("ssp") else _unit(order)
    except MovrelError as fault:
        changes = {"state": "failed", "reason": fault.sentence()}
    UnitExport.update(**changes).where(UnitExport.id == number).execute()
    announce(
        "unit", unit=number, project=order.project_id, model=order.model, state=changes["state"]
    )


def _unit(order: UnitExport) -> dict[str, Any]:
    model, options, left_out = unit_exports.prepared(order)
    made = unit_of_model(model, options)
    return {
        "state": "done",
        "notes": [*made.notes, *_left_out(left_out)],
        "summary": unit_exports.summary_of(made.description),
        "content": made.archive,
    }


def _rig(order: UnitExport) -> dict[str, Any]:
    """The whole rig as an SSP archive."""
    model, options, left_out = unit_exports.prepared(order)
    run = prepare_rig(model, settings_of(model) or RigSettings(), options.settings)
    drawn = sheet(model.tree, model.definition)
    places = {c.name: _extent(c.extent) for c in drawn.components}
    made = ssp_of(run, model.definition, places, order.choices["ssp"])
    summary = {"inputs": len(run.rig.unfed), "outputs": len(run.rig.connections)}
    return {
        "state": "done",
        "notes": [*made.notes, *_left_out(left_out)],
        "summary": summary,
        "content": made.archive,
    }


def _extent(corners: Sequence[float]) -> tuple[float, float, float, float]:
    x1, y1, x2, y2 = corners
    return x1, y1, x2, y2


def _left_out(texts: list[str]) -> list[str]:
    return [f"Left out of the scenario: {text}." for text in texts]
