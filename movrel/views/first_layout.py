"""Which curves are shown first for a model that nobody has arranged yet."""

from __future__ import annotations

from movrel.equations.sorted_model import Sorted

#: Strips of a first layout, and curves on one.
STRIPS, CURVES = 2, 3


def first_layout(system: Sorted) -> list[list[str]]:
    """Strips of variable names: the states, then what else their components show, grouped by unit.

    A component whose state comes first in the model comes first here.
    """
    variables = {
        v.name: v
        for v in system.flat.variables
        if v.variability in ("continuous", "discrete") and not v.generated
    }
    states = [v for v in system.states if v.name in variables] or [
        v for v in system.solved if v.name in variables
    ]
    strips: dict[tuple[str, str], list[str]] = {}
    for state in states:
        unit = state.display_unit or state.unit
        strips.setdefault(("state", unit), []).append(state.name)
        beside: dict[str, list[str]] = {}
        for v in variables.values():
            if (
                v.component == state.component
                and v is not state
                and (v.display_unit or v.unit) != unit
            ):
                beside.setdefault(v.display_unit or v.unit, []).append(v.name)
        # Quantities that come in company, such as flows in and out, say more than a lone one.
        for other, names in sorted(beside.items(), key=lambda item: -len(item[1])):
            strips.setdefault((state.component, other), []).extend(names)
    return [names[:CURVES] for names in list(strips.values())[:STRIPS]]
