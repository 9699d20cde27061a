"""The rows of the ledger: every quantity of a component with its value, unit and words."""

from __future__ import annotations

from typing import Any

from movrel.equations.parameters import parameter_values
from movrel.errors import MovrelError, StructureFault
from movrel.model import expression as x
from movrel.model.flat import FlatModel, Variable
from movrel.units import convert, pretty


def rows(flat: FlatModel) -> list[dict[str, Any]]:
    """One row per scalar of a model.

    ``group`` is ``set`` (parameters), ``start`` (parameters that only start values use) or ``watch``
    (what varies). Values are given in the declared unit (``value``) and as shown (``shown``, in
    ``shown_unit``).
    """
    try:
        values = parameter_values(flat, {})
    except StructureFault:
        values = {}
    only_for_start = _start_parameters(flat)
    return [_row(v, values, only_for_start) for v in flat.variables if v.variability != "constant" and not v.protected]


def _start_parameters(flat: FlatModel) -> set[int]:
    in_start = {
        id(u) for v in flat.variables if v.start is not None and v.variability == "continuous" for u in x.variables(v.start)
    }
    elsewhere = {id(u) for e in flat.equations for side in (e.left, e.right) for u in x.variables(side)}
    elsewhere |= {id(u) for v in flat.variables if v.binding is not None for u in x.variables(v.binding)}
    return in_start - elsewhere


def _row(v: Variable, values: dict[int, Any], only_for_start: set[int]) -> dict[str, Any]:
    parameter = v.variability == "parameter"
    unit = v.unit
    shown_unit = v.display_unit or unit
    row: dict[str, Any] = {
        "name": v.name,
        "label": v.name[len(v.component) + 1 :] if v.component else v.name,
        "component": v.component,
        "description": v.description,
        "type": v.type,
        "unit": unit,
        "shown_unit": shown_unit,
        "group": ("start" if id(v) in only_for_start else "set") if parameter else "watch",
        "value": None,
        "shown": None,
        "expression": None,
        "editable": False,
        "choices": list(v.enumeration),
    }
    if parameter:
        value = values.get(id(v))
        if isinstance(value, bool | str):
            row["value"] = value
        elif value is not None:
            row["value"] = float(value)
            row["shown"] = shown_value(float(value), unit, shown_unit)
        if v.binding is not None and v.binding.op != "const":
            row["expression"] = x.show(v.binding)
        row["editable"] = not v.final
    return row


def shown_value(value: float, unit: str, shown_unit: str) -> float:
    """A value in the unit in which it is shown; unchanged when the units do not fit each other."""
    try:
        return convert(value, unit, shown_unit) if unit and shown_unit != unit else value
    except MovrelError:
        return value


def scale(unit: str, shown_unit: str) -> tuple[float, float]:
    """Factor and offset from the declared to the shown unit."""
    offset = shown_value(0.0, unit, shown_unit)
    return shown_value(1.0, unit, shown_unit) - offset, offset


def readable(value: Any, unit: str = "") -> str:
    """A value for a sentence: at most five significant digits, with its unit."""
    text = f"{value:.5g}" if isinstance(value, float) else str(value).lower() if isinstance(value, bool) else str(value)
    return f"{text} {pretty(unit)}".strip()
