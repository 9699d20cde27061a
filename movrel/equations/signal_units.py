"""Signals take the unit of what they are connected with, where they were declared without one."""

from __future__ import annotations

from movrel.equations.alias import Reduced
from movrel.model.expression import Variable


def signal_units(variables: list[Variable], reduced: Reduced) -> dict[Variable, tuple[str, str]]:
    """Unit and displayed unit of variables that have none themselves but are equal to one that has.

    Nothing is given where those that a signal is equal to have different units.
    """
    equal: dict[Variable, list[Variable]] = {}
    for v in variables:
        alias = reduced.aliases.get(v)
        if v.variability in ("continuous", "discrete") and v.type == "Real":
            equal.setdefault(alias.of if alias is not None else v, []).append(v)
    units: dict[Variable, tuple[str, str]] = {}
    for group in equal.values():
        declared = {v.unit: v.display_unit for v in reversed(group) if v.unit}
        if len(declared) == 1 and len(group) > 1:
            ((unit, shown),) = declared.items()
            units |= {v: (unit, shown) for v in group if not v.unit}
    return units
